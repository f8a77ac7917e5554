/** What operators are to install by hand, and what they say of it. */
package lucid.server.operators;
