/** What the product names of vendors mean here. Door: {@link lucid.server.mappings.StoredMappings}. */
package lucid.server.mappings;
