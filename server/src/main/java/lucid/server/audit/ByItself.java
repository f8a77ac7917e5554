package lucid.server.audit;

import java.security.Principal;

/** Author of what nobody did: it follows from what somebody decided before, or from a day that passed. */
public record ByItself(String getName) implements Principal {

    public static final ByItself AUTHOR = new ByItself("Lucid Verdict");
}
