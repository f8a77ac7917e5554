/** What a host is told to do with each update that it lacks. Door: {@link lucid.core.order.HostOrders}. */
package lucid.core.order;
