/** A key that nobody else uses; also where the page is not served securely, and the browser therefore gives no UUID. */
export function randomKey(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, '0')).join('');
}
