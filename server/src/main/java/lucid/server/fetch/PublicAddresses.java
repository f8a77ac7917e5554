package lucid.server.fetch;

import java.net.Inet4Address;
import java.net.InetAddress;
import java.util.List;
import java.util.stream.Stream;
import org.springframework.security.web.util.matcher.IpAddressMatcher;

/** Which addresses belong to the public internet. */
final class PublicAddresses {

    /** The only IPv6 addresses that are given out to anybody (RFC 4291, section 2.4). */
    private static final IpAddressMatcher GLOBAL_UNICAST = new IpAddressMatcher("2000::/3");

    /** The registries of special-purpose addresses (RFC 6890 and its updates), multicast, and what is reserved. */
    private static final List<IpAddressMatcher> SPECIAL = ranges(
            "0.0.0.0/8", // this network
            "10.0.0.0/8", // private use
            "100.64.0.0/10", // shared by providers
            "127.0.0.0/8", // loopback
            "169.254.0.0/16", // link-local
            "172.16.0.0/12", // private use
            "192.0.0.0/24", // protocol assignments
            "192.0.2.0/24", // documentation
            "192.168.0.0/16", // private use
            "198.18.0.0/15", // benchmarking
            "198.51.100.0/24", // documentation
            "203.0.113.0/24", // documentation
            "224.0.0.0/4", // multicast
            "240.0.0.0/4", // reserved
            "2001::/23", // protocol assignments, among them Teredo, which carries an IPv4 address
            "2001:db8::/32", // documentation
            "2002::/16"); // 6to4, which carries an IPv4 address

    private PublicAddresses() {}

    private static List<IpAddressMatcher> ranges(String... ranges) {
        return Stream.of(ranges).map(IpAddressMatcher::new).toList();
    }

    static boolean contains(InetAddress address) {
        // Without the interface of a link-local address.
        String text = address.getHostAddress().split("%")[0];
        return (address instanceof Inet4Address || GLOBAL_UNICAST.matches(text))
                && SPECIAL.stream().noneMatch(range -> range.matches(text));
    }
}
