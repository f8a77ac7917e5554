/** Who carried an update on a past day, and what has changed since. */
package lucid.server.past;
