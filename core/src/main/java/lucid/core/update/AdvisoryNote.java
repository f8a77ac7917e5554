package lucid.core.update;

/**
 * Words of a vendor that stand beside the summary of its advisory.
 *
 * @param about the vulnerability they are about; empty for the whole advisory
 * @param title what the vendor calls them: a title, or the category of the note
 */
public record AdvisoryNote(String about, String title, String words) {}
