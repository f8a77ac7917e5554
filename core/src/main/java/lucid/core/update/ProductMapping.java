package lucid.core.update;

import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * What a person told of a vendor's product names: which package URL they mean, or that no host here has what they name.
 * It is used for every document of that vendor.
 *
 * @param vendor whose documents it is for: the publisher of an advisory, or the ecosystem where the format names no
 *     publisher; compared without regard to case
 * @param pattern the name, in which {@code *} stands for any text
 * @param target what the name means; empty: no host here has it
 */
public record ProductMapping(long number, String vendor, How how, String pattern, Optional<Target> target) {

    /** By what a product is known. */
    public enum How {
        /** By a name: its own, or that of a branch above it. */
        NAME,
        /** By a name of the form {@code name-epoch:version-release[.arch]}, which also tells package and version. */
        PACKAGE,
        /** By its CPE name. */
        CPE
    }

    /**
     * A package URL without version; for {@link How#PACKAGE} its last part may be {@code *}: the name that the vendor's
     * name begins with.
     */
    public record Target(String purl) {

        private static final String ANY_NAME = "/*";

        /** @throws IllegalArgumentException for a text that is no package URL, or one with a version */
        public Target {
            if (reference(purl, "name").version().isPresent()) {
                throw new IllegalArgumentException("'" + purl + "' has a version; a mapping is for all of them");
            }
        }

        public boolean takesAnyName() {
            return bare(purl).endsWith(ANY_NAME);
        }

        PackageReference of(String name) {
            return reference(purl, name);
        }

        private static String bare(String purl) {
            return purl.split("[?#]", 2)[0];
        }

        private static PackageReference reference(String purl, String name) {
            String bare = bare(purl);
            return PackageReference.parse(
                    bare.endsWith(ANY_NAME)
                            ? bare.substring(0, bare.length() - 1)
                                    + name.replace("+", "%2B")
                                    + purl.substring(bare.length())
                            : purl);
        }
    }

    /**
     * @throws IllegalArgumentException for an empty vendor or pattern, or {@code *} as the name of a package that the
     *     vendor's name does not tell
     */
    public ProductMapping {
        if (vendor.isBlank() || pattern.isBlank()) {
            throw new IllegalArgumentException("a mapping names a vendor and a product");
        }
        if (how != How.PACKAGE && target.filter(Target::takesAnyName).isPresent()) {
            throw new IllegalArgumentException(
                    "* as the last part of the package URL needs names that begin with the name of the package");
        }
    }

    /** A package as many vendors of rpm packages write it into a name. */
    public record PackageName(String name, String version, Optional<String> arch) {

        private static final Pattern FORM = Pattern.compile(
                "(?<name>[A-Za-z0-9][A-Za-z0-9+._-]*)-(?<epoch>\\d+):(?<version>[^-:\\s]+)-(?<release>[^-:\\s]+?)"
                        + "(?:\\.(?<arch>noarch|src|nosrc|x86_64|i[3-6]86|aarch64|armv7hl|ppc64le|ppc64|s390x|riscv64))?");

        /** The package that a text names: {@code name-epoch:version-release}, with or without an architecture. */
        public static Optional<PackageName> of(String text) {
            Matcher form = FORM.matcher(text);
            if (!form.matches()) {
                return Optional.empty();
            }
            String epoch = form.group("epoch").equals("0") ? "" : form.group("epoch") + ":";
            return Optional.of(new PackageName(
                    form.group("name"),
                    epoch + form.group("version") + "-" + form.group("release"),
                    Optional.ofNullable(form.group("arch"))));
        }
    }

    boolean isOf(String someVendor) {
        return vendor.strip().equalsIgnoreCase(someVendor.strip());
    }

    /** True for a pattern that stands for one name alone: it goes before those that stand for many. */
    boolean isExact() {
        return pattern.indexOf('*') < 0;
    }

    boolean matches(String name) {
        String regex = Stream.of(pattern.strip().toLowerCase(Locale.ROOT).split("\\*", -1))
                .map(Pattern::quote)
                .collect(Collectors.joining(".*"));
        return name.strip().toLowerCase(Locale.ROOT).matches(regex);
    }
}
