package lucid.server.clock;

/** The demo's clock was moved forward: whatever the time alone brings is due. */
public record ClockMoved() {}
