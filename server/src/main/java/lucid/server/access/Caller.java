package lucid.server.access;

import java.io.Serializable;
import java.security.Principal;

/** Who makes a request. Its name is what the record shows. */
public sealed interface Caller extends Principal, Serializable {

    record Person(String login, String displayName, Role role) implements Caller {
        @Override
        public String getName() {
            return displayName;
        }
    }

    record Machine(String tokenName, Scope scope) implements Caller {
        @Override
        public String getName() {
            return "Machine " + tokenName;
        }
    }
}
