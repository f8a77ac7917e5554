package lucid.server.snapshot;

import jdk.jfr.Category;
import jdk.jfr.Description;
import jdk.jfr.Event;
import jdk.jfr.Label;
import jdk.jfr.Name;
import jdk.jfr.StackTrace;

/** How long one change kept all others waiting, for a flight recording of the JDK; it costs nothing while none runs. */
@Name("lucid.WriteTurn")
@Label("Turn of the writer")
@Description("From when a change has the writer's turn until the next may have it, with the commit")
@Category("Lucid Verdict")
@StackTrace(false)
final class WriteTurn extends Event {}
