package lucid.core.update;

/** What one document says of one update; several together make an {@link Update}. */
public sealed interface UpdateDocument permits Advisory, UpdateNotice {

    UpdateId id();

    /** Version of the document, compared as dotted numbers. */
    String revision();

    /** True if what {@code earlier} says counts no more beside this: both are about one update, from one source. */
    boolean takesThePlaceOf(UpdateDocument earlier);
}
