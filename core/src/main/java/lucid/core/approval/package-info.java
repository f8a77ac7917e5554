/** Who may decide: which verdicts need the word of a second person. */
package lucid.core.approval;
