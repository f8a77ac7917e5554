package lucid.server;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import org.junit.jupiter.api.Test;
import org.springframework.web.bind.annotation.RestController;

/** How the server is cut: by what it does for a user, each slice with its controller and mapper side by side. */
class ArchitectureTest {

    private static final JavaClasses SERVER = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("lucid.server");

    @Test
    void onlyTheClockReadsTheTime() {
        noClasses()
                .that()
                .resideOutsideOfPackage("lucid.server.clock")
                .should()
                .callMethod(Instant.class, "now")
                .orShould()
                .callMethod(LocalDate.class, "now")
                .orShould()
                .callMethod(Clock.class, "systemUTC")
                .check(SERVER);
    }

    @Test
    void controllersAreTheirSlicesOwn() {
        classes()
                .that()
                .areAnnotatedWith(RestController.class)
                .should()
                .bePackagePrivate()
                .check(SERVER);
    }

    @Test
    void slicesDoNotReachIntoEachOther() {
        String[] slices = {"docket", "verdicts", "exceptions", "populations", "carriers", "hosts", "search"};
        for (String slice : slices) {
            for (String other : slices) {
                if (!slice.equals(other)) {
                    noClasses()
                            .that()
                            .resideInAPackage("lucid.server." + slice)
                            .should()
                            .dependOnClassesThat()
                            .resideInAPackage("lucid.server." + other)
                            .check(SERVER);
                }
            }
        }
    }
}
