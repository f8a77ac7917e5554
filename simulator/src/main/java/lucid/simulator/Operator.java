package lucid.simulator;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.temporal.TemporalAdjusters;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** What the operator of the booking databases says of what is to be installed there by hand. */
final class Operator {

    private final Api api;
    private final String login;
    private final String password;

    Operator(Api api, String login, String password) {
        this.api = api;
        this.login = login;
        this.password = password;
    }

    /** @param today the day that lies so many days before the end of the history */
    void say(int daysAgo, LocalDate today) {
        if (daysAgo == 1) {
            // It was not: the host tells so the next day.
            entry(Map.of("hosts", List.of("bdb-07"), "words", "done with its pair"));
        } else if (daysAgo == 0) {
            LocalDate sunday = today.with(TemporalAdjusters.next(DayOfWeek.SUNDAY));
            entry(Map.of(
                    "hosts",
                    List.of("bdb-08", "bdb-09"),
                    "words",
                    "replicas first; the night ship has sailed by then",
                    "slot",
                    Map.of("from", sunday + "T02:00:00Z", "until", sunday + "T05:00:00Z")));
        }
    }

    private void entry(Map<String, ?> said) {
        api.signIn(login, password);
        Map<String, Object> entry = new HashMap<>(said);
        entry.put("update", "TRN-2236");
        entry.put("revision", "1");
        api.post("/api/operator-work/entries", entry);
    }
}
