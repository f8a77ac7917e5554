package lucid.server.access;

import java.io.Serializable;
import java.security.Principal;
import java.util.Optional;
import java.util.Set;

/** Who makes a request. Its name is what the record shows. */
public sealed interface Caller extends Principal, Serializable {

    /**
     * @param populations of an operator: the ids of its own
     * @param oneTime true until the person has chosen a password
     * @param version of the account; a session of an older one no longer counts
     */
    record Person(String login, String displayName, Role role, Set<String> populations, boolean oneTime, int version) implements Caller {
        @Override
        public String getName() {
            return displayName;
        }
    }

    /** @param hostName of a host's own token: the host, else null */
    record Machine(String tokenName, Scope scope, String hostName) implements Caller {
        @Override
        public String getName() {
            return "Machine " + tokenName;
        }

        public Optional<String> host() {
            return Optional.ofNullable(hostName);
        }
    }
}
