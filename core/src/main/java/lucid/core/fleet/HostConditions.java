package lucid.core.fleet;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * Reads the condition language.
 *
 * <pre>
 * either     = both { "or" both }
 * both       = one { "and" one }
 * one        = "not" one | "(" either ")" | trait test
 * test       = ( "=" | "≠" | "!=" | "&lt;" | "≤" | "&lt;=" | ">" | "≥" | ">=" ) value
 *            | "in" "(" value { "," value } ")"
 *            | "is" [ "not" ] "set"
 * value      = number | "true" | "false" | word | quoted text
 * </pre>
 *
 * Keywords are lower case. Words hold letters, digits and {@code _ . - /}; everything else wants double quotes.
 */
public final class HostConditions {

    /** Deeper nesting is refused, so that no text can exhaust the stack. */
    private static final int DEEPEST = 50;

    private final String text;
    private final Map<String, Trait.Type> types;
    private final List<Token> tokens;
    private int next;
    private int depth;

    private HostConditions(String text, Map<String, Trait.Type> types) {
        this.text = text;
        this.types = types;
        this.tokens = Token.all(text);
    }

    /** Reads a condition without knowing which traits there are. */
    public static HostCondition parse(String text) {
        return parse(text, Map.of());
    }

    /**
     * Reads a condition and checks its values against the types of known traits; unknown traits may have any type.
     *
     * @throws ConditionSyntaxException with the place, if the text is no condition or compares a trait with a value of
     *     another type
     */
    public static HostCondition parse(String text, Map<String, Trait.Type> types) {
        HostConditions reader = new HostConditions(text, types);
        HostCondition condition = reader.either();
        if (!reader.peek().is(Token.Type.END)) {
            throw reader.unexpected("'and', 'or' or the end");
        }
        return condition;
    }

    private HostCondition either() {
        List<HostCondition> parts = new ArrayList<>(List.of(both()));
        while (takeKeyword("or")) {
            parts.add(both());
        }
        return parts.size() == 1 ? parts.get(0) : new HostCondition.Or(flatten(parts, HostCondition.Or.class));
    }

    private HostCondition both() {
        List<HostCondition> parts = new ArrayList<>(List.of(one()));
        while (takeKeyword("and")) {
            parts.add(one());
        }
        return parts.size() == 1 ? parts.get(0) : new HostCondition.And(flatten(parts, HostCondition.And.class));
    }

    /** {@code a and (b and c)} is the same as {@code a and b and c}, and prints so. */
    private static List<HostCondition> flatten(List<HostCondition> parts, Class<? extends HostCondition> type) {
        List<HostCondition> flat = new ArrayList<>();
        for (HostCondition part : parts) {
            if (!type.isInstance(part)) {
                flat.add(part);
            } else if (part instanceof HostCondition.And and) {
                flat.addAll(and.parts());
            } else if (part instanceof HostCondition.Or or) {
                flat.addAll(or.parts());
            }
        }
        return List.copyOf(flat);
    }

    private HostCondition one() {
        if (++depth > DEEPEST) {
            throw new ConditionSyntaxException(peek().position(), "nested more than " + DEEPEST + " deep");
        }
        try {
            if (takeKeyword("not")) {
                return new HostCondition.Not(one());
            }
            if (takeSign("(")) {
                HostCondition inner = either();
                expectSign(")");
                return inner;
            }
            return test();
        } finally {
            depth--;
        }
    }

    private HostCondition test() {
        if (!peek().is(Token.Type.WORD) && !peek().is(Token.Type.QUOTED)) {
            throw unexpected("the name of a trait");
        }
        String trait = take().text();
        if (takeKeyword("is")) {
            boolean negated = takeKeyword("not");
            if (!takeKeyword("set")) {
                throw unexpected(negated ? "'set'" : "'set' or 'not set'");
            }
            HostCondition isSet = new HostCondition.IsSet(trait);
            return negated ? new HostCondition.Not(isSet) : isSet;
        }
        if (takeKeyword("in")) {
            expectSign("(");
            List<Trait> values = new ArrayList<>();
            do {
                values.add(value(trait));
            } while (takeSign(","));
            expectSign(")");
            return new HostCondition.Membership(trait, List.copyOf(values));
        }
        HostCondition.Operator operator = operator();
        Token at = peek();
        Trait value = value(trait);
        if (operator.ordersNumbers() && value.type() != Trait.Type.NUMBER) {
            throw new ConditionSyntaxException(
                    at.position(), "'" + operator + "' compares numbers, '" + value + "' is none");
        }
        return new HostCondition.Comparison(trait, operator, value);
    }

    private HostCondition.Operator operator() {
        if (peek().is(Token.Type.SIGN)) {
            for (HostCondition.Operator operator : HostCondition.Operator.values()) {
                if (peek().text().equals(operator.toString())) {
                    take();
                    return operator;
                }
            }
        }
        throw unexpected("one of = ≠ < ≤ > ≥, 'in' or 'is set'");
    }

    private Trait value(String trait) {
        Token token = peek();
        Trait value;
        if (token.is(Token.Type.NUMBER)) {
            value = number(token);
        } else if (token.is(Token.Type.WORD) || token.is(Token.Type.QUOTED)) {
            value = new Trait.Text(token.text());
        } else if (token.isKeyword("true") || token.isKeyword("false")) {
            value = new Trait.Truth(token.text().equals("true"));
        } else {
            throw unexpected("a value");
        }
        Trait.Type known = types.get(trait);
        if (known != null && known != value.type()) {
            throw new ConditionSyntaxException(
                    token.position(),
                    "'" + trait + "' is " + known.words() + ", '" + value + "' is "
                            + value.type().words());
        }
        take();
        return value;
    }

    private static Trait number(Token token) {
        try {
            return new Trait.Number(new BigDecimal(token.text()));
        } catch (IllegalArgumentException e) {
            throw new ConditionSyntaxException(token.position(), e.getMessage());
        }
    }

    private Token peek() {
        return tokens.get(next);
    }

    private Token take() {
        return tokens.get(next++);
    }

    private boolean takeKeyword(String keyword) {
        boolean found = peek().isKeyword(keyword);
        next += found ? 1 : 0;
        return found;
    }

    private boolean takeSign(String sign) {
        boolean found = peek().is(Token.Type.SIGN) && peek().text().equals(sign);
        next += found ? 1 : 0;
        return found;
    }

    private void expectSign(String sign) {
        if (!takeSign(sign)) {
            throw unexpected("'" + sign + "'");
        }
    }

    private ConditionSyntaxException unexpected(String expected) {
        Token found = peek();
        String what = found.is(Token.Type.END) ? (text.isBlank() ? "nothing" : "the end") : "'" + found.text() + "'";
        return new ConditionSyntaxException(found.position(), "expected " + expected + ", found " + what);
    }
}
