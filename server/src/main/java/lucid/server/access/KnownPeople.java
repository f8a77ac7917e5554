package lucid.server.access;

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

    /** As who they would be signed in now. */
    public Optional<Caller.Person> find(String login) {
        return mapper.account(login).map(access::person);
    }
}
