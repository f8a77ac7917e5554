package lucid.core.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.util.List;
import java.util.Map;
import java.util.Random;
import lucid.core.TestFleet;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class HostConditionsTest {

    private static final Host KIOSK = TestFleet.host(
            7,
            Map.of(
                    "reader",
                    TestFleet.text("R2"),
                    "spool_free_mb",
                    TestFleet.number(120),
                    "fingerprint",
                    new Trait.Truth(true),
                    "site",
                    TestFleet.text("Fell Landing")));

    @ParameterizedTest
    @CsvSource(
            quoteCharacter = '\'',
            value = {
                "reader = R2, true",
                "reader = R1, false",
                "reader ≠ R1, true",
                "reader != R2, false",
                "spool_free_mb < 300, true",
                "spool_free_mb <= 120, true",
                "spool_free_mb > 120, false",
                "spool_free_mb ≥ 120.0, true",
                "fingerprint = true, true",
                "fingerprint = false, false",
                "'reader in (R1, R2)', true",
                "'reader in (R3)', false",
                "reader is set, true",
                "reader is not set, false",
                "printer is not set, true",
                // A trait that is not set satisfies no comparison.
                "printer ≠ T4, false",
                "not printer = T4, true",
                "reader = R2 and spool_free_mb < 300, true",
                "reader = R1 or spool_free_mb < 300, true",
                "reader = R1 or reader = R2 and spool_free_mb > 300, false",
                "(reader = R1 or reader = R2) and not spool_free_mb > 300, true",
                "site = \"Fell Landing\", true",
                "name = host-7, true",
                "platform = \"Fathom OS 31\", true",
            })
    void tests(String text, boolean expected) {
        assertThat(HostConditions.parse(text).test(KIOSK)).isEqualTo(expected);
    }

    @ParameterizedTest
    @CsvSource(
            quoteCharacter = '\'',
            delimiter = '|',
            value = {
                "reader=R2|reader = R2",
                "spool_free_mb<=300|spool_free_mb ≤ 300",
                "((reader = R2))|reader = R2",
                "a = 1 and (b = 2 and c = 3)|a = 1 and b = 2 and c = 3",
                "(a = 1 or b = 2) and c = 3|(a = 1 or b = 2) and c = 3",
                "not (a is set)|a is not set",
                "site = \"Fell Landing\"|site = \"Fell Landing\"",
                "model = \"300\"|model = \"300\"",
                "x = 300.50|x = 300.5",
                "not (a = 1 or b = 2)|not (a = 1 or b = 2)",
                "a in(1,2)|a in (1, 2)",
            })
    void printsBackCanonically(String text, String canonical) {
        assertThat(HostConditions.parse(text)).hasToString(canonical);
        assertThat(HostConditions.parse(canonical)).hasToString(canonical);
    }

    @ParameterizedTest
    @CsvSource(
            quoteCharacter = '\'',
            delimiter = '|',
            value = {
                "''|0|expected the name of a trait, found nothing", "reader|6|found the end",
                        "reader =|8|expected a value", "reader = R2 R3|12|expected 'and'",
                "reader < R2|9|compares numbers", "(reader = R2|12|expected ')'",
                        "reader is nice|10|'set' or 'not set'", "reader in R2|10|expected '('",
                "reader = \"R2|9|no end", "reader = R2 & x = 1|12|'&' means nothing here",
                        "and = 2|0|expected the name", "model < 3|8|'model' is text",
            })
    void saysWhereAndWhatIsWrong(String text, int position, String message) {
        assertThatThrownBy(() -> HostConditions.parse(text, Map.of("model", Trait.Type.TEXT)))
                .isInstanceOfSatisfying(ConditionSyntaxException.class, e -> {
                    assertThat(e.position()).isEqualTo(position);
                    assertThat(e).hasMessageContaining(message).hasMessageContaining("at character " + (position + 1));
                });
    }

    @Test
    void numbersAreLimited() {
        assertThatThrownBy(() -> HostConditions.parse("a < 1" + "0".repeat(60)))
                .isInstanceOf(ConditionSyntaxException.class)
                .hasMessageContaining("at most 50 digits");
        assertThatThrownBy(() -> new Trait.Number(new BigDecimal("1e2147483647")))
                .isInstanceOf(IllegalArgumentException.class);
        assertThatThrownBy(() -> new Trait.Number(new BigDecimal("1e-99")))
                .isInstanceOf(IllegalArgumentException.class);
        assertThat(new Trait.Number(new BigDecimal("1e20"))).hasToString("100000000000000000000");
    }

    @Test
    void nestingIsLimited() {
        String deep = "(".repeat(100_000) + "a = 1";
        assertThatThrownBy(() -> HostConditions.parse(deep))
                .isInstanceOf(ConditionSyntaxException.class)
                .hasMessageContaining("deep");
    }

    @Test
    void everyConditionReadsBackAsItself() {
        Random random = new Random(4);
        for (int i = 0; i < 5_000; i++) {
            HostCondition condition =
                    HostConditions.parse(randomCondition(random, 3).toString());
            assertThat(HostConditions.parse(condition.toString())).isEqualTo(condition);
        }
    }

    private static HostCondition randomCondition(Random random, int depth) {
        String trait = List.of("reader", "spool_free_mb", "odd name", "not").get(random.nextInt(4));
        Trait value = List.<Trait>of(
                        TestFleet.text("R2"),
                        TestFleet.text("say \"no\" \\ or"),
                        TestFleet.text(""),
                        TestFleet.text("12"),
                        new Trait.Number(new BigDecimal("-1.50")),
                        new Trait.Truth(false))
                .get(random.nextInt(6));
        return switch (depth == 0 ? random.nextInt(4) : random.nextInt(7)) {
            case 0 ->
                new HostCondition.Comparison(
                        trait,
                        random.nextBoolean() ? HostCondition.Operator.EQUAL : HostCondition.Operator.NOT_EQUAL,
                        value);
            case 1 ->
                new HostCondition.Comparison(
                        trait, HostCondition.Operator.AT_LEAST, TestFleet.number(random.nextInt(500)));
            case 2 -> new HostCondition.Membership(trait, List.of(value, TestFleet.text("x")));
            case 3 -> new HostCondition.IsSet(trait);
            case 4 -> new HostCondition.Not(randomCondition(random, depth - 1));
            case 5 ->
                new HostCondition.And(List.of(randomCondition(random, depth - 1), randomCondition(random, depth - 1)));
            default ->
                new HostCondition.Or(List.of(randomCondition(random, depth - 1), randomCondition(random, depth - 1)));
        };
    }
}
