package lucid.server.state;

import org.flywaydb.core.api.exception.FlywayValidateException;
import org.springframework.boot.diagnostics.AbstractFailureAnalyzer;
import org.springframework.boot.diagnostics.FailureAnalysis;

/** Says in words that the data was written by a version of the program that this one does not follow. */
class OtherVersionAnalyzer extends AbstractFailureAnalyzer<FlywayValidateException> {

    @Override
    protected FailureAnalysis analyze(Throwable start, FlywayValidateException cause) {
        return new FailureAnalysis("The data was written by a newer version of Lucid Verdict, or its tables were changed by hand. Nothing was changed now.",
                "Start the version that wrote the data, or restore a backup of this version into a new folder.", cause);
    }
}
