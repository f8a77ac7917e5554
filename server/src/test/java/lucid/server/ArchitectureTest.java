package lucid.server;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.classes;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.dependencies.SliceAssignment;
import com.tngtech.archunit.library.dependencies.SliceIdentifier;
import com.tngtech.archunit.library.dependencies.SlicesRuleDefinition;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import lucid.server.docket.Dockets;
import lucid.server.snapshot.SnapshotStore;
import org.apache.ibatis.annotations.Mapper;
import org.junit.jupiter.api.Test;
import org.springframework.web.bind.annotation.RestController;

/** How the server is cut: by what it does for a user, each slice with its controller and mapper side by side. */
class ArchitectureTest {

    private static final JavaClasses SERVER = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("lucid.server");

    private static final SliceAssignment PACKAGES = new SliceAssignment() {
        @Override
        public SliceIdentifier getIdentifierOf(JavaClass javaClass) {
            return SliceIdentifier.of(javaClass.getPackageName());
        }

        @Override
        public String getDescription() {
            return "packages";
        }
    };

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
    void noSliceLeadsBackToItself() {
        SlicesRuleDefinition.slices()
                .assignedFrom(PACKAGES)
                .should()
                .beFreeOfCycles()
                .check(SERVER);
    }

    @Test
    void mappersAreTheirSlicesOwn() {
        classes()
                .that()
                .areAnnotatedWith(Mapper.class)
                // What is set in the server as a whole belongs to no slice.
                .and()
                .resideOutsideOfPackage("lucid.server.storage")
                .should()
                .bePackagePrivate()
                .check(SERVER);
    }

    /** Each caller gets the snapshot that it may see, as a parameter; the docket is for those who see everything. */
    @Test
    void noRouteHelpsItselfToWhatItsCallerMayNotSee() {
        noClasses()
                .that()
                .areAnnotatedWith(RestController.class)
                .should()
                .callMethod(SnapshotStore.class, "snapshot")
                .check(SERVER);
        noClasses()
                .that()
                .resideOutsideOfPackages(
                        "lucid.server.docket",
                        "lucid.server.evidence",
                        "lucid.server.metrics",
                        "lucid.server.carriers",
                        "lucid.server.digest")
                .should()
                .dependOnClassesThat()
                .areAssignableTo(Dockets.class)
                .check(SERVER);
    }
}
