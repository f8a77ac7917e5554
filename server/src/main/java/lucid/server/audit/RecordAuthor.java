package lucid.server.audit;

/** Somebody whom the record names more exactly than the screen does elsewhere. */
public interface RecordAuthor {

    /** Name and sign-in name, so that two people of the same name are never taken for each other. */
    String recordName();
}
