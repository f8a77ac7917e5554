/** What waits for a second person, whatever it would decide, and what needs one. */
package lucid.server.proposals;
