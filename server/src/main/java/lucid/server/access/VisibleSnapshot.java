package lucid.server.access;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.security.Principal;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.fleet.PopulationId;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import org.springdoc.core.utils.SpringDocUtils;
import org.springframework.core.MethodParameter;
import org.springframework.security.core.Authentication;
import org.springframework.stereotype.Component;
import org.springframework.web.bind.support.WebDataBinderFactory;
import org.springframework.web.context.request.NativeWebRequest;
import org.springframework.web.method.support.HandlerMethodArgumentResolver;
import org.springframework.web.method.support.ModelAndViewContainer;
import org.springframework.web.servlet.config.annotation.WebMvcConfigurer;

/**
 * Gives each route that asks for a {@link Snapshot} the one that its caller may see: an operator its own populations
 * and their hosts, other people everything, machines that report what orders are made of, whoever else nothing.
 * Controllers come by a snapshot in no other way, so that a route which forgets to ask who is there shows nothing too
 * much.
 */
@Component
class VisibleSnapshot implements HandlerMethodArgumentResolver, WebMvcConfigurer {

    static {
        SpringDocUtils.getConfig().addRequestWrapperToIgnore(Snapshot.class);
    }

    private static final int MOST_VIEWS = 100;

    /** @param whole of which it is a part */
    private record View(Snapshot whole, Snapshot part) {}

    private final SnapshotStore store;
    /** The newest view of each set of populations: an operator asks several questions of one snapshot. */
    private final Cache<Set<PopulationId>, View> views =
            Caffeine.newBuilder().maximumSize(MOST_VIEWS).build();

    VisibleSnapshot(SnapshotStore store) {
        this.store = store;
    }

    /** @param ids of an operator's own populations */
    private Snapshot only(Set<String> ids) {
        Set<PopulationId> own = ids.stream().map(PopulationId::new).collect(Collectors.toUnmodifiableSet());
        Snapshot whole = store.snapshot();
        return views.asMap()
                .compute(
                        own,
                        (populations, known) -> known != null && known.whole() == whole
                                ? known
                                : new View(whole, whole.only(populations)))
                .part();
    }

    /** @param caller null where nobody is signed in */
    Snapshot of(Principal caller) {
        Optional<Caller.Person> person = caller instanceof Authentication authentication
                        && authentication.getPrincipal() instanceof Caller.Person found
                        && found.pending() == Caller.Pending.NOTHING
                ? Optional.of(found)
                : Optional.empty();
        if (person.isEmpty()) {
            return machine(caller)
                    .map(machine -> machine.onlyPopulations().map(this::only).orElseGet(store::snapshot))
                    .orElse(Snapshot.EMPTY);
        }
        return person.get().role() == Role.OPERATOR ? only(person.get().populations()) : store.snapshot();
    }

    /**
     * Whoever brings what hosts say may ask what they are told, and the route cuts that to the host of the token;
     * monitors, calendars and feeds have a route each.
     */
    private static Optional<Caller.Machine> machine(Principal caller) {
        return caller instanceof Authentication authentication
                        && authentication.getPrincipal() instanceof Caller.Machine machine
                        && machine.scope() != Scope.BACKUP
                ? Optional.of(machine)
                : Optional.empty();
    }

    @Override
    public void addArgumentResolvers(List<HandlerMethodArgumentResolver> resolvers) {
        resolvers.add(this);
    }

    @Override
    public boolean supportsParameter(MethodParameter parameter) {
        return parameter.getParameterType() == Snapshot.class;
    }

    @Override
    public Snapshot resolveArgument(
            MethodParameter parameter,
            ModelAndViewContainer container,
            NativeWebRequest request,
            WebDataBinderFactory binders) {
        return of(request.getUserPrincipal());
    }
}
