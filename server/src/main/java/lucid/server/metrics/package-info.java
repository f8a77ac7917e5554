/** Counts for outside monitors. */
package lucid.server.metrics;
