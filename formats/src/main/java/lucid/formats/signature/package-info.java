/** Detached OpenPGP signatures (RFC 9580, RFC 4880). Door: {@link lucid.formats.signature.TrustedKeys}. */
package lucid.formats.signature;
