/** What each person should know of the last day and of the next days, on screen and by mail. */
package lucid.server.digest;
