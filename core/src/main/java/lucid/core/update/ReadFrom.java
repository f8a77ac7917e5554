package lucid.core.update;

/**
 * Where in its document stands what was read of a product.
 *
 * @param name what the document calls the product
 * @param place JSON pointer (RFC 6901) to where it is defined
 */
public record ReadFrom(ProductBuild build, String name, String place) {}
