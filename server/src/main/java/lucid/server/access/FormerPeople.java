package lucid.server.access;

import java.util.HashSet;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Whether somebody by whose name something goes has left: had an account once, and has none now. */
@Component
public class FormerPeople {

    private final AccessMapper mapper;

    FormerPeople(AccessMapper mapper) {
        this.mapper = mapper;
    }

    /** A question about many names, answered from one reading. */
    public interface Left {
        boolean has(String name);
    }

    /** Names are compared as those of accounts are; somebody who never had an account has not left. */
    public Left now() {
        Set<String> left = new HashSet<>();
        mapper.former().forEach(person -> {
            left.add(Names.compared(person.name()));
            left.add(Names.compared(person.displayName()));
        });
        mapper.accounts().forEach(account -> {
            left.remove(Names.compared(account.name()));
            left.remove(Names.compared(account.displayName()));
        });
        return name -> left.contains(Names.compared(name));
    }
}
