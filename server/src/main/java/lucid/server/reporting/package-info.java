/** What is told to others about the fleet and about what was decided. */
package lucid.server.reporting;
