package lucid.server.intake;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.update.ProductMapping;
import lucid.server.access.Caller;
import lucid.server.mappings.StoredMappings;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Product names of vendors, and what they mean here. */
@RestController
@RequestMapping("/api")
class MappingController {

    private static final int LONGEST_NAME = 500;
    private static final int LONGEST_REASON = 1000;

    private final ProductNames names;
    private final StoredMappings mappings;

    MappingController(ProductNames names, StoredMappings mappings) {
        this.names = names;
        this.mappings = mappings;
    }

    /** @param product package URL; none: no host here has it */
    record MappingView(
            long number,
            String vendor,
            ProductMapping.How how,
            String pattern,
            Optional<String> product,
            String reason,
            String author,
            Instant createdAt) {}

    /** Mappings in use, the newest first. */
    @GetMapping("/product-mappings")
    List<MappingView> inUse() {
        return mappings.all().stream()
                .map(stored -> new MappingView(
                        stored.mapping().number(),
                        stored.mapping().vendor(),
                        stored.mapping().how(),
                        stored.mapping().pattern(),
                        stored.mapping().target().map(ProductMapping.Target::purl),
                        stored.reason(),
                        stored.author(),
                        stored.createdAt()))
                .toList();
    }

    /** Products of advisories that could not be read, by vendor. */
    @GetMapping("/unread-products")
    List<ProductNames.UnreadOfVendor> unread(Snapshot snapshot) {
        return names.unread(snapshot);
    }

    /**
     * A mapping as it is worded.
     *
     * @param pattern a name, in which {@code *} stands for any text
     * @param product package URL without version, with {@code *} as its last part where the names tell it; none: no
     *     host here has it
     */
    record MappingDraft(
            String vendor, ProductMapping.How how, String pattern, Optional<String> product, Optional<String> reason) {}

    @PostMapping("/product-mappings/preview")
    List<ProductNames.ReadWith> preview(@RequestBody MappingDraft draft, Snapshot snapshot) {
        return names.preview(snapshot, mapping(draft));
    }

    record MadeMapping(long number) {}

    @PostMapping("/product-mappings")
    @ResponseStatus(HttpStatus.CREATED)
    MadeMapping use(@RequestBody MappingDraft draft, @AuthenticationPrincipal Caller who) {
        String reason = draft.reason().map(String::strip).orElse("");
        if (!reason.isEmpty()) {
            ProblemException.requireLine("reason", reason, LONGEST_REASON, "");
        }
        ProductMapping mapping = mapping(draft);
        return new MadeMapping(names.use(
                mapping, mapping.target().map(ProductMapping.Target::purl).orElse(null), reason, who));
    }

    @DeleteMapping("/product-mappings/{number}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void revoke(@PathVariable long number, @AuthenticationPrincipal Caller who) {
        names.revoke(number, who);
    }

    /** It goes before every other until it has a number of its own. */
    private static ProductMapping mapping(MappingDraft draft) {
        String vendor = ProblemException.requireLine(
                "vendor", draft.vendor(), LONGEST_NAME, "name the vendor whose product this is");
        String pattern = ProblemException.requireLine(
                "pattern", draft.pattern(), LONGEST_NAME, "name the product; * stands for any text");
        if (draft.how() == null) {
            throw ProblemException.badField("how", "say by what it is known: NAME, PACKAGE or CPE");
        }
        try {
            return new ProductMapping(
                    Long.MAX_VALUE,
                    vendor,
                    draft.how(),
                    pattern,
                    draft.product().map(String::strip).map(ProductMapping.Target::new));
        } catch (IllegalArgumentException e) {
            throw ProblemException.badField("product", e.getMessage());
        }
    }
}
