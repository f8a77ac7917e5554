/** The files of the data folder: who may use them, the schema in them, and whether they hold what they once held. */
package lucid.server.storage;
