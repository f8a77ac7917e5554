/** What exceptions cost while they stand, and what their ends bring. */
package lucid.core.exceptions;
