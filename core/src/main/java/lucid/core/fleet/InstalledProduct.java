package lucid.core.fleet;

import lucid.core.update.ProductBuild;

/** A version of a product that a host reported as installed. */
public record InstalledProduct(ProductBuild build, String version) {}
