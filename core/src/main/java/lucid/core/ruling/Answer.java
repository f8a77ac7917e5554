package lucid.core.ruling;

/** What a ruling says. */
public enum Answer { NOTHING_TO_DO, WITHHELD, OFFERED, BY_OPERATOR }
