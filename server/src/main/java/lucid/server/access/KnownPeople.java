package lucid.server.access;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** People who have an account, for whoever does something for one who is not signed in. */
@Component
public class KnownPeople {

    private final AccessService access;
    private final AccessMapper mapper;

    KnownPeople(AccessService access, AccessMapper mapper) {
        this.access = access;
        this.mapper = mapper;
    }

    /** @param name as the record shows it */
    record KnownPerson(String name, Role role) {}

    List<KnownPerson> all() {
        return mapper.accounts().stream()
                .map(account -> new KnownPerson(account.displayName(), account.role()))
                .sorted(Comparator.comparing(KnownPerson::name))
                .toList();
    }

    /** The name of somebody with an account, as the record shows it, however it was written. */
    public Optional<String> named(String name) {
        return mapper.accounts().stream()
                .filter(account -> areSame(account.displayName(), name))
                .map(AccessMapper.Account::displayName)
                .findFirst();
    }

    /** As who they would be signed in now. */
    public Optional<Caller.Person> find(String login) {
        return mapper.account(login).map(access::person);
    }

    /** True if both are names of one person. */
    public static boolean areSame(String one, String other) {
        return Names.compared(one).equals(Names.compared(other));
    }
}
