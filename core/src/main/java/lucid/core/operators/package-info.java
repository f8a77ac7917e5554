/** What operators install by hand: what there is to do on which hosts, and what they have said of it. */
package lucid.core.operators;
