package lucid.core.approval;

import java.util.Set;
import java.util.stream.Stream;

/**
 * What needs the word of a second person, by tier (1 to 4). That somebody else's exception is overridden always does.
 *
 * @param forces tiers whose hosts nobody forces alone, at once or as what a pilot prepares
 * @param disturbs tiers whose hosts nobody makes install or restart in their busy hours alone
 * @param excepts tiers whose hosts nobody excepts alone
 */
public record ApprovalRules(Set<Integer> forces, Set<Integer> disturbs, Set<Integer> excepts) {

    public static final ApprovalRules USUAL = new ApprovalRules(Set.of(1), Set.of(1), Set.of());

    /** @throws IllegalArgumentException for a tier that is not from 1 to 4 */
    public ApprovalRules {
        forces = Set.copyOf(forces);
        disturbs = Set.copyOf(disturbs);
        excepts = Set.copyOf(excepts);
        if (Stream.of(forces, disturbs, excepts).flatMap(Set::stream).anyMatch(tier -> tier < 1 || tier > 4)) {
            throw new IllegalArgumentException("a tier is from 1 to 4");
        }
    }
}
