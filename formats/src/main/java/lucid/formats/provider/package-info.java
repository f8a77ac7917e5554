/**
 * How a provider of CSAF documents lays them out (CSAF 2.0, section 7). Doors:
 * {@link lucid.formats.provider.ProviderMetadata}, {@link lucid.formats.provider.Listing}.
 */
package lucid.formats.provider;
