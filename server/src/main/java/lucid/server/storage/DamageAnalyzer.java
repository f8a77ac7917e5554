package lucid.server.storage;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.Set;
import org.h2.api.ErrorCode;
import org.h2.mvstore.MVStoreException;
import org.springframework.boot.diagnostics.AbstractFailureAnalyzer;
import org.springframework.boot.diagnostics.FailureAnalysis;
import org.springframework.core.env.Environment;

/**
 * Says what to do when a part of the database cannot be read that was only looked at while the server started; the
 * stack goes to a file beside the data.
 */
class DamageAnalyzer extends AbstractFailureAnalyzer<Exception> {

    private static final Set<Integer> CODES = Set.of(
            ErrorCode.FILE_CORRUPTED_1,
            ErrorCode.IO_EXCEPTION_1,
            ErrorCode.IO_EXCEPTION_2,
            ErrorCode.GENERAL_ERROR_1,
            ErrorCode.DATABASE_IS_CLOSED);

    private final Environment environment;

    DamageAnalyzer(Environment environment) {
        this.environment = environment;
    }

    static boolean isDamage(Throwable cause) {
        return cause instanceof MVStoreException
                || cause instanceof DamagedDataException
                || cause instanceof SQLException database && CODES.contains(database.getErrorCode());
    }

    @Override
    protected FailureAnalysis analyze(Throwable start, Exception cause) {
        for (Throwable each = start; each != null; each = each.getCause()) {
            if (isDamage(each)) {
                return new FailureAnalysis(
                        "The database in " + environment.getProperty("lucid.data")
                                + " is damaged: a part of it cannot be read ("
                                + String.valueOf(each.getMessage())
                                        .lines()
                                        .findFirst()
                                        .orElse("") + "). Nothing was changed." + kept(start),
                        "Restore a backup into a new folder with './lucid restore FILE --data FOLDER'.",
                        each);
            }
        }
        return null;
    }

    private String kept(Throwable start) {
        StringWriter trace = new StringWriter();
        start.printStackTrace(new PrintWriter(trace));
        try {
            Files.writeString(
                    Path.of(environment.getProperty("lucid.data", ".")).resolve("damage.log"), trace.toString());
            return " More stands in damage.log beside it.";
        } catch (IOException e) {
            return "";
        }
    }
}
