package lucid.server.fetch;

import java.net.Inet4Address;
import java.net.InetAddress;

/**
 * Which addresses belong to the public internet, by the registries of special-purpose addresses (RFC 6890 and its
 * updates).
 */
final class PublicAddresses {

    private PublicAddresses() {}

    static boolean contains(InetAddress address) {
        if (address.isAnyLocalAddress()
                || address.isLoopbackAddress()
                || address.isLinkLocalAddress()
                || address.isSiteLocalAddress()
                || address.isMulticastAddress()) {
            return false;
        }
        byte[] b = address.getAddress();
        return address instanceof Inet4Address ? isPublic4(b) : isPublic6(b);
    }

    private static boolean isPublic4(byte[] b) {
        int first = b[0] & 0xff;
        int second = b[1] & 0xff;
        boolean thisNetwork = first == 0;
        boolean sharedByProviders = first == 100 && second >= 64 && second <= 127;
        boolean protocolAssignments = first == 192 && second == 0 && (b[2] == 0 || b[2] == 2);
        boolean benchmarking = first == 198 && (second == 18 || second == 19);
        boolean documentation =
                first == 198 && second == 51 && b[2] == 100 || first == 203 && second == 0 && b[2] == 113;
        boolean reserved = first >= 240;
        return !thisNetwork
                && !sharedByProviders
                && !protocolAssignments
                && !benchmarking
                && !documentation
                && !reserved;
    }

    private static boolean isPublic6(byte[] b) {
        // Global unicast only; of that, not what carries an IPv4 address inside (6to4, Teredo) or is for documentation.
        boolean globalUnicast = (b[0] & 0xe0) == 0x20;
        boolean sixToFour = b[0] == 0x20 && b[1] == 0x02;
        boolean ietf = b[0] == 0x20 && b[1] == 0x01 && (b[2] & 0xfe) == 0;
        boolean documentation = b[0] == 0x20 && b[1] == 0x01 && b[2] == 0x0d && b[3] == (byte) 0xb8;
        return globalUnicast && !sixToFour && !ietf && !documentation;
    }
}
