package lucid.core.version;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Our orderings against the real package systems on random versions. Where a package system is not installed the test
 * is skipped, unless {@code LUCID_ORACLES=required} (as {@code ./lucid test} sets after installing them).
 */
class RealPackageSystemsTest {

    private static final long SEED = 31;

    @TempDir
    Path folder;

    private record Pair(String a, String b) {}

    @Test
    void debAgreesWithDpkg() throws Exception {
        requireCommand("dpkg");
        List<Pair> pairs =
                pairs(2_500, VersionOrdering.DEB, new String[] {"", "", "", "0:", "1:", "12:"}, ".+~-ab0129Z:");
        Path input = write(pairs);
        List<String> answers = run("""
                while read -r a b; do
                  if dpkg --compare-versions "$a" lt "$b"; then echo -1
                  elif dpkg --compare-versions "$a" eq "$b"; then echo 0
                  else echo 1; fi
                done < "$1" """, input);
        compare(VersionOrdering.DEB, pairs, answers);
    }

    @Test
    void debAcceptsWhatDpkgAccepts() throws Exception {
        requireCommand("dpkg");
        Random random = new Random(SEED);
        List<String> versions = new ArrayList<>();
        for (int i = 0; i < 600; i++) {
            versions.add(random(random, new String[] {"", "", "1:", ":", "a:"}, ".+~-ab01_:"));
        }
        Path input = Files.write(folder.resolve("versions"), versions);
        List<String> accepted = run("""
                while read -r v; do if dpkg --validate-version "$v" 2>/dev/null; then echo yes; else echo no; fi; done < "$1" """, input);
        for (int i = 0; i < versions.size(); i++) {
            if (accepted.get(i).equals("yes")) {
                assertThat(VersionOrdering.DEB.fault(versions.get(i)))
                        .as(versions.get(i))
                        .isEmpty();
            }
        }
        assertThat(accepted).contains("yes", "no");
    }

    @Test
    void rpmAgreesWithRpm() throws Exception {
        requireCommand("rpm");
        List<Pair> pairs = pairs(20_000, VersionOrdering.RPM, new String[] {"", "", "", "0:", "1:"}, "._+~^-ab0129Z");
        Path input = write(pairs);
        List<String> answers = run("""
                rpm --eval '%{lua: for line in io.lines("'"$1"'") do
                  local a, b = line:match("(%S+) (%S+)")
                  local x, y = rpm.ver(a), rpm.ver(b)
                  print((x < y and "-1" or (y < x and "1" or "0")) .. "\\n")
                end}' | grep . """, input);
        compare(VersionOrdering.RPM, pairs, answers);
    }

    private static void compare(VersionOrdering ordering, List<Pair> pairs, List<String> answers) {
        assertThat(answers).hasSameSizeAs(pairs);
        List<String> differences = new ArrayList<>();
        for (int i = 0; i < pairs.size(); i++) {
            Pair pair = pairs.get(i);
            int ours = Integer.signum(ordering.compare(pair.a(), pair.b()));
            if (ours != Integer.parseInt(answers.get(i).strip())) {
                differences.add(pair + ": ours " + ours + ", theirs " + answers.get(i));
            }
        }
        assertThat(differences).isEmpty();
    }

    /**
     * Pairs of valid versions; every second one differs from its partner in a single character, where orderings are
     * delicate.
     */
    private static List<Pair> pairs(int count, VersionOrdering ordering, String[] epochs, String alphabet) {
        Random random = new Random(SEED);
        List<Pair> pairs = new ArrayList<>();
        while (pairs.size() < count) {
            String a = random(random, epochs, alphabet);
            String b = pairs.size() % 2 == 0 ? random(random, epochs, alphabet) : changed(a, random, alphabet);
            if (ordering.fault(a).isEmpty() && ordering.fault(b).isEmpty()) {
                pairs.add(new Pair(a, b));
            }
        }
        return pairs;
    }

    private static String random(Random random, String[] epochs, String alphabet) {
        StringBuilder version = new StringBuilder(epochs[random.nextInt(epochs.length)]).append(random.nextInt(20));
        int length = random.nextInt(9);
        for (int i = 0; i < length; i++) {
            version.append(alphabet.charAt(random.nextInt(alphabet.length())));
        }
        return version.toString();
    }

    private static String changed(String version, Random random, String alphabet) {
        int at = random.nextInt(version.length() + 1);
        return version.substring(0, at)
                + alphabet.charAt(random.nextInt(alphabet.length()))
                + version.substring(random.nextBoolean() ? at : Math.min(at + 1, version.length()));
    }

    private Path write(List<Pair> pairs) throws IOException {
        return Files.write(
                folder.resolve("pairs"),
                pairs.stream().map(p -> p.a() + " " + p.b()).toList());
    }

    private static List<String> run(String script, Path argument) throws IOException, InterruptedException {
        Process process = new ProcessBuilder("sh", "-c", script, "sh", argument.toString())
                .redirectError(ProcessBuilder.Redirect.DISCARD)
                .start();
        List<String> lines =
                new String(process.getInputStream().readAllBytes()).lines().toList();
        process.waitFor();
        return lines;
    }

    private static void requireCommand(String command) throws Exception {
        boolean found =
                new ProcessBuilder("sh", "-c", "command -v " + command).start().waitFor() == 0;
        if ("required".equals(System.getenv("LUCID_ORACLES"))) {
            assertThat(found).as(command + " is installed").isTrue();
        }
        assumeTrue(found, command + " is not installed here");
    }
}
