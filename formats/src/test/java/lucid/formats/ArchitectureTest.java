package lucid.formats;

import static com.tngtech.archunit.library.dependencies.SlicesRuleDefinition.slices;

import com.tngtech.archunit.core.domain.JavaClass;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.dependencies.SliceAssignment;
import com.tngtech.archunit.library.dependencies.SliceIdentifier;
import org.junit.jupiter.api.Test;

/** A format is one folder, which knows what a document is; only the door knows the formats. */
class ArchitectureTest {

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
    void noPackageLeadsBackToItself() {
        slices().assignedFrom(PACKAGES)
                .should()
                .beFreeOfCycles()
                .check(new ClassFileImporter()
                        .withImportOption(new ImportOption.DoNotIncludeTests())
                        .importPackages("lucid.formats"));
    }
}
