/** What is told to others: how long hosts wait, what is withheld and why, what became of what was forced. */
package lucid.core.reporting;
