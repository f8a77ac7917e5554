package lucid.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;
import static com.tngtech.archunit.library.Architectures.layeredArchitecture;
import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.time.Clock;
import java.time.Instant;
import org.junit.jupiter.api.Test;

/** The packages of core depend only on those to their left, and on nothing that belongs to a server. */
class ArchitectureTest {

    private static final JavaClasses CORE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("lucid.core");

    @Test
    void packagesDependOnlyOnThoseBeforeThem() {
        layeredArchitecture()
                .consideringOnlyDependenciesInLayers()
                .layer("version")
                .definedBy("lucid.core.version")
                .layer("update")
                .definedBy("lucid.core.update")
                .layer("fleet")
                .definedBy("lucid.core.fleet")
                .layer("carriage")
                .definedBy("lucid.core.carriage")
                .layer("evidence")
                .definedBy("lucid.core.evidence")
                .layer("causes")
                .definedBy("lucid.core.causes")
                .layer("gate")
                .definedBy("lucid.core.gate")
                .layer("weighing")
                .definedBy("lucid.core.weighing")
                .layer("pilot")
                .definedBy("lucid.core.pilot")
                .layer("ruling")
                .definedBy("lucid.core.ruling")
                .layer("forecast")
                .definedBy("lucid.core.forecast")
                .layer("approval")
                .definedBy("lucid.core.approval")
                .layer("exceptions")
                .definedBy("lucid.core.exceptions")
                .layer("operators")
                .definedBy("lucid.core.operators")
                .layer("docket")
                .definedBy("lucid.core.docket")
                .layer("order")
                .definedBy("lucid.core.order")
                .layer("reporting")
                .definedBy("lucid.core.reporting")
                .whereLayer("version")
                .mayNotAccessAnyLayer()
                .whereLayer("update")
                .mayOnlyAccessLayers("version")
                .whereLayer("fleet")
                .mayOnlyAccessLayers("version", "update")
                .whereLayer("carriage")
                .mayOnlyAccessLayers("version", "update", "fleet")
                .whereLayer("evidence")
                .mayOnlyAccessLayers("version", "update", "fleet", "carriage")
                .whereLayer("causes")
                .mayOnlyAccessLayers("version", "update", "fleet", "carriage", "evidence")
                .whereLayer("gate")
                .mayNotAccessAnyLayer()
                .whereLayer("weighing")
                .mayOnlyAccessLayers("version", "update", "fleet", "carriage", "evidence", "causes", "gate")
                .whereLayer("pilot")
                .mayOnlyAccessLayers("version", "update", "fleet", "carriage", "evidence", "gate")
                .whereLayer("ruling")
                .mayOnlyAccessLayers("version", "update", "fleet", "carriage", "evidence", "causes", "gate", "pilot")
                .whereLayer("forecast")
                .mayOnlyAccessLayers("version", "update", "fleet", "carriage", "evidence", "ruling")
                .whereLayer("approval")
                .mayOnlyAccessLayers("version", "update", "fleet", "carriage", "pilot", "ruling")
                .whereLayer("exceptions")
                .mayOnlyAccessLayers("version", "update", "fleet", "carriage", "evidence", "weighing", "ruling")
                .whereLayer("operators")
                .mayOnlyAccessLayers("update", "fleet", "carriage", "ruling")
                .whereLayer("docket")
                .mayOnlyAccessLayers(
                        "version",
                        "update",
                        "fleet",
                        "carriage",
                        "evidence",
                        "causes",
                        "gate",
                        "pilot",
                        "weighing",
                        "ruling",
                        "forecast")
                .whereLayer("order")
                .mayOnlyAccessLayers("version", "update", "fleet", "carriage", "ruling", "forecast", "docket")
                .whereLayer("reporting")
                .mayOnlyAccessLayers("update", "fleet", "carriage", "evidence", "pilot", "ruling")
                .check(CORE);
    }

    @Test
    void noCycles() {
        slices().matching("lucid.core.(*)..").should().beFreeOfCycles().check(CORE);
    }

    @Test
    void knowsNoServerNoDatabaseNoDocumentFormat() {
        noClasses()
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage("org.springframework..", "java.sql..", "java.net..", "tools.jackson..", "java.io..")
                .check(CORE);
    }

    @Test
    void readsNoClockAndStartsNoThread() {
        noClasses()
                .should()
                .callMethod(Instant.class, "now")
                .orShould()
                .dependOnClassesThat()
                .areAssignableTo(Clock.class)
                .orShould()
                .dependOnClassesThat()
                .areAssignableTo(Thread.class)
                .check(CORE);
    }
}
