/** What goes by a person's name, and how it is handed over to somebody else. */
package lucid.server.responsibilities;
