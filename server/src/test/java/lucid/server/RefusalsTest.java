package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.http.HttpRequest.BodyPublishers;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Whatever is asked wrongly is answered with which field it is and what it may be. */
class RefusalsTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    @ParameterizedTest
    @CsvSource(delimiter = '|', nullValues = "-", textBlock = """
            POST | /api/objections | {"force":"x","exception":1,"words":"a"}           | 400 | force      | a whole number is expected, not 'x'
            POST | /api/objections | {"exception":1,"words":"a"}                       | 400 | force      | a whole number is expected
            POST | /api/objections | {"force":99999999999999999999,"exception":1}      | 400 | force      | a whole number is expected, and this is out of its range
            POST | /api/objections | {"force":{},"exception":1,"words":"a"}            | 400 | force      | a whole number is expected
            POST | /api/verdicts   | {"update":{"a":1}}                                | 400 | update     | a text is expected
            POST | /api/verdicts   | {"update":"A","type":"AWFUL"}                     | 400 | type       | one of BLOCK, DEFER, PILOT, FORCE is expected, not 'AWFUL'
            POST | /api/exceptions/renewals | {"exceptions":"x"}                       | 400 | exceptions | a list is expected
            POST | /api/exceptions/renewals | {"exceptions":[1,"y"]}                   | 400 | exceptions.1 | a whole number is expected, not 'y'
            POST | /api/exceptions/renewals | {"exceptions":[1],"until":"soon"}        | 422 | until      | until: 'soon' is no day such as 2026-12-14
            POST | /api/exceptions/renewals | []                                       | 400 | -          | an object with exceptions, until, reason is expected
            POST | /api/hosts/h/retirement | []                                        | 400 | -          | an object with reason is expected
            PUT  | /api/approval-rules | {"forces":"all","disturbs":[],"excepts":[]}   | 400 | forces     | a list is expected
            GET  | /api/carriers/OLD/past?on=yesterday | -                             | 400 | on         | a day such as 2026-12-14 is expected, not 'yesterday'
            GET  | /api/carriers/OLD/past?on=1200-01-01 | -                            | 400 | on         | a day such as 2026-12-14 is expected, not '1200-01-01'
            GET  | /api/carriers/OLD/past | -                                          | 400 | on         | a day such as 2026-12-14 is expected, and nothing is given
            GET  | /api/carriers/changes?from=x | -                                    | 400 | from       | a day such as 2026-12-14 is expected, not 'x'
            GET  | /api/report/forced?days=many | -                                    | 400 | days       | a whole number is expected, not 'many'
            GET  | /api/pilots/first | -                                               | 400 | number     | a whole number is expected, not 'first'
            GET  | /api/carriers?sort=UP | -                                           | 422 | sort       | one of NEWEST, RATING, LACKING, DUE, NAME is expected, not 'UP'
            """)
    void whatIsWrongIsNamedWithWhatItMayBe(
            String method, String path, String body, int status, String field, String words) {
        LucidServer.Client client = path.startsWith("/api/approval-rules") ? SERVER.administrator() : SERVER.analyst();
        LucidServer.Answer answer = body == null
                ? client.get(path)
                : client.send(method, path, "application/json", BodyPublishers.ofString(body));
        assertThat(answer.status()).as(answer.text()).isEqualTo(status);
        assertThat(answer.json().path("detail").asString()).isEqualTo(words);
        assertThat(answer.json().path("field").asString(null)).isEqualTo(field);
    }
}
