package lucid.server.feeds;

import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.formats.document.Limits;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.provider.Listing;
import lucid.formats.provider.ProviderMetadata;
import lucid.formats.signature.SignatureException;
import lucid.formats.signature.TrustedKeys;
import lucid.server.access.Bringer;
import lucid.server.fetch.OutboundClient;
import lucid.server.intake.Incoming;
import lucid.server.intake.IntakeOutcome;
import lucid.server.intake.IntakeService;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;

/**
 * Reads a provider of CSAF documents as the standard says (CSAF 2.0, section 7): its metadata, then its ROLIE feeds or
 * else its directories, then each document that changed since with its hash and its detached signature. What is not
 * signed by a trusted key, or was altered, is held on Intake with the reason.
 */
@Component
class ProviderFetch {

    private static final int LONGEST_LIST = 16 * 1024 * 1024;
    private static final int LONGEST_SIGNATURE = 64 * 1024;
    private static final int MOST_FAULTS = 5;

    private final OutboundClient outbound;
    private final IntakeService intake;

    ProviderFetch(OutboundClient outbound, IntakeService intake) {
        this.outbound = outbound;
        this.intake = intake;
    }

    /**
     * @param taken documents that brought something new
     * @param held documents that are not trusted
     * @param refused documents that cannot be read
     * @param faults what could not be fetched
     * @param seenUntil the last change up to which everything was fetched, as before if something could not be
     */
    record Result(int listed, int taken, int held, int refused, List<String> faults, Optional<Instant> seenUntil) {
        String words() {
            String found = listed == 0
                    ? "nothing new"
                    : taken + " taken" + (held > 0 ? ", " + held + " held because they are not trusted" : "")
                            + (refused > 0 ? ", " + refused + " refused" : "");
            return found
                    + (faults.isEmpty()
                            ? ""
                            : "; " + faults.size() + " could not be fetched: "
                                    + String.join("; ", faults.subList(0, Math.min(MOST_FAULTS, faults.size()))));
        }
    }

    Result fetch(FeedMapper.Feed feed, TrustedKeys keys, Instant now, Bringer sender) {
        ProviderMetadata metadata = read(feed.address(), ProviderMetadata::read);
        List<Listing.Entry> entries = new ArrayList<>();
        if (metadata.feeds().isEmpty()) {
            metadata.directories()
                    .forEach(directory -> entries.addAll(
                            read(inside(directory, "changes.csv"), changes -> Listing.ofChanges(changes, directory))
                                    .documents()));
        } else {
            metadata.feeds()
                    .forEach(address -> entries.addAll(
                            read(address.toString(), Listing::ofFeed).documents()));
        }
        Optional<Instant> seen = Optional.ofNullable(feed.seenUntil());
        List<Listing.Entry> changed = entries.stream()
                .filter(entry ->
                        seen.filter(until -> !entry.changed().isAfter(until)).isEmpty())
                .distinct()
                .toList();
        int[] counts = new int[3];
        List<String> faults = new ArrayList<>();
        for (Listing.Entry entry : changed) {
            try {
                counts[fetch(entry, keys, now, sender).ordinal()]++;
            } catch (OutboundClient.AskedToWaitException e) {
                throw e;
            } catch (ProblemException e) {
                faults.add(entry.document() + ": " + e.getMessage());
            }
        }
        Optional<Instant> until = faults.isEmpty()
                ? changed.stream()
                        .map(Listing.Entry::changed)
                        .max(Instant::compareTo)
                        .map(last -> last.isAfter(now) ? now : last)
                        .or(() -> seen)
                : seen;
        return new Result(
                changed.size(),
                counts[Fate.ACCEPTED.ordinal()],
                counts[Fate.HELD.ordinal()],
                counts[Fate.REJECTED.ordinal()],
                faults,
                until);
    }

    private enum Fate {
        ACCEPTED,
        HELD,
        REJECTED
    }

    private interface Reading<T> {
        T read(byte[] content);
    }

    private <T> T read(String address, Reading<T> reading) {
        try {
            return reading.read(outbound.fetch(address, LONGEST_LIST).content());
        } catch (RefusedDocumentException e) {
            throw ProblemException.badField("address", address + ": " + e.getMessage());
        }
    }

    private static String inside(URI directory, String name) {
        return directory + (directory.toString().endsWith("/") ? "" : "/") + name;
    }

    private Fate fetch(Listing.Entry entry, TrustedKeys keys, Instant now, Bringer sender) {
        OutboundClient.Fetched document = outbound.fetch(entry.document().toString(), Limits.LONGEST_DOCUMENT);
        Incoming incoming =
                new Incoming(document.name(), document.content(), Optional.empty(), Optional.empty(), Map.of());
        try {
            requireHash(entry, document.content());
            String signer = keys.verify(document.content(), signature(entry), now);
            Incoming signed = new Incoming(
                    document.name(),
                    document.content(),
                    Optional.empty(),
                    Optional.empty(),
                    Map.of(),
                    Optional.of(signer));
            return intake.take(signed, sender, Optional.empty()).outcome() == IntakeOutcome.REJECTED
                    ? Fate.REJECTED
                    : Fate.ACCEPTED;
        } catch (SignatureException e) {
            // The same content with the same fault is held once.
            if (!intake.isKnown(document.content())) {
                intake.hold(incoming, e.getMessage(), sender);
            }
            return Fate.HELD;
        }
    }

    private byte[] signature(Listing.Entry entry) throws SignatureException {
        try {
            return outbound.fetch(entry.signature().toString(), LONGEST_SIGNATURE)
                    .content();
        } catch (ProblemException e) {
            throw new SignatureException("it is not signed: " + entry.signature() + ": " + e.getMessage());
        }
    }

    /** A file of the layout of {@code sha256sum}: the digest, then the name. */
    private void requireHash(Listing.Entry entry, byte[] document) throws SignatureException {
        if (entry.hash().isEmpty()) {
            return;
        }
        String address = entry.hash().get().toString();
        String told;
        try {
            told = new String(outbound.fetch(address, LONGEST_SIGNATURE).content(), StandardCharsets.UTF_8)
                    .strip()
                    .split("\\s+")[0];
        } catch (ProblemException e) {
            throw new SignatureException("its hash is missing: " + address + ": " + e.getMessage());
        }
        String own = address.endsWith(".sha512") ? Digests.sha512(document) : Digests.sha256(document);
        if (!own.equalsIgnoreCase(told)) {
            throw new SignatureException("it does not fit its hash at " + address
                    + ": it was altered on the way, or its provider published another one");
        }
    }
}
