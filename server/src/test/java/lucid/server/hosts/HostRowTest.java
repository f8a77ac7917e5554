package lucid.server.hosts;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import lucid.core.fleet.Host;
import org.junit.jupiter.api.Test;

/** A fleet that is not restarted for long has very many versions that still run, and few different ones. */
class HostRowTest {

    private static Host read(int number) {
        return new HostMapper.HostRow(
                        number,
                        "h-" + number,
                        "Tarn Linux 4",
                        "",
                        null,
                        null,
                        Instant.EPOCH,
                        Instant.EPOCH,
                        new byte[0],
                        "pkg:rpm/tarn/libtls\ttarn-4\tx86_64\t3.0.7-18\ttls\t3.0.7-18\n",
                        "",
                        null)
                .host(List.of(), Map.of());
    }

    @Test
    void whatStillRunsIsOneObjectOnAllHosts() {
        assertThat(read(1).running()).hasSize(1);
        assertThat(read(2).running().get(0)).isSameAs(read(1).running().get(0));
    }
}
