package lucid.server.access;

import java.io.Serializable;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.HostName;
import lucid.formats.document.Format;
import lucid.server.audit.RecordAuthor;

/** Who makes a request. Its name is what the screen shows; the record shows by which name a person signs in as well. */
public sealed interface Caller extends Bringer, RecordAuthor, Serializable {

    /**
     * @param populations of an operator: the ids of its own
     * @param pending what the person must do before anything else
     * @param version of the account; a session of an older one no longer counts
     */
    record Person(String login, String displayName, Role role, Set<String> populations, Pending pending, int version)
            implements Caller {
        @Override
        public String getName() {
            return displayName;
        }

        @Override
        public String recordName() {
            return displayName + " (" + login + ")";
        }

        @Override
        public Set<Format> formats() {
            return switch (role) {
                case ANALYST -> Set.of(Format.values());
                case ADMINISTRATOR -> Bringer.unjudged();
                case DESK -> Set.of(Format.FAILURE_REPORTS);
                default -> Set.of();
            };
        }
    }

    /** What a person must do after signing in, before anything else. */
    enum Pending {
        NOTHING,
        /** The password was made by somebody else. */
        CHOOSE_PASSWORD,
        /** The role asks for a second factor, and none is set up. */
        SET_UP_SECOND_FACTOR
    }

    /**
     * @param onlyHost of a host's own token: the host
     * @param onlyPopulations of an operator's own address: the ids of that operator's populations
     */
    record Machine(
            String tokenName,
            Scope scope,
            Optional<HostName> onlyHost,
            Optional<Set<String>> onlyPopulations,
            Set<Format> formats)
            implements Caller {

        Machine(String tokenName, Scope scope, Optional<HostName> onlyHost, Set<Format> formats) {
            this(tokenName, scope, onlyHost, Optional.empty(), formats);
        }

        @Override
        public String getName() {
            return "Machine " + tokenName;
        }

        @Override
        public String recordName() {
            return getName();
        }
    }
}
