package lucid.server.access;

import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Who can be asked to see to something. */
@RestController
@RequestMapping("/api/people")
class PeopleController {

    private final KnownPeople people;

    PeopleController(KnownPeople people) {
        this.people = people;
    }

    /** By name. */
    @GetMapping
    List<KnownPeople.KnownPerson> people() {
        return people.all();
    }
}
