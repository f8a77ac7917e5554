package lucid.server.fetch;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.InetAddress;
import java.net.UnknownHostException;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class PublicAddressesTest {

    @ParameterizedTest
    @ValueSource(
            strings = {
                "127.0.0.1",
                "127.8.8.8",
                "10.1.2.3",
                "172.16.0.1",
                "192.168.1.1",
                "169.254.169.254",
                "0.0.0.0",
                "0.1.2.3",
                "100.64.0.1",
                "192.0.0.8",
                "192.0.2.1",
                "198.18.0.1",
                "198.51.100.1",
                "203.0.113.9",
                "224.0.0.1",
                "240.0.0.1",
                "255.255.255.255",
                "::",
                "::1",
                "fe80::1",
                "fc00::1",
                "fd12::1",
                "ff02::1",
                "::ffff:127.0.0.1",
                "::ffff:10.0.0.1",
                "64:ff9b::7f00:1",
                "2002:7f00:1::",
                "2001:0:1::",
                "2001:db8::1",
                "100::1",
            })
    void notOfThePublicInternet(String address) throws UnknownHostException {
        assertThat(PublicAddresses.contains(InetAddress.getByName(address))).isFalse();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "100.63.0.1",
                "100.128.0.1",
                "172.15.0.1",
                "172.32.0.1",
                "192.0.1.1",
                "198.20.0.1",
                "203.0.114.1",
                "2a00:1::1",
                "::ffff:100.63.0.1"
            })
    void ofThePublicInternet(String address) throws UnknownHostException {
        assertThat(PublicAddresses.contains(InetAddress.getByName(address))).isTrue();
    }
}
