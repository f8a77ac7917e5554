/** How many hosts were in which state at the end of each day, counted then and kept. */
package lucid.server.days;
