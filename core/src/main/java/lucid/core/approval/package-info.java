/** Who may decide: which decisions need the word of a second person. */
package lucid.core.approval;
