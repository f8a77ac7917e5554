package lucid.core.ruling;

/** What a ruling says. */
public enum Effect {
    NOTHING_TO_DO,
    WITHHELD,
    OFFERED,
    BY_OPERATOR
}
