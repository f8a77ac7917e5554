package lucid.server.hosts;

import lucid.core.fleet.HostName;
import lucid.formats.cyclonedx.CycloneDxWriter;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** What a host has, as a file that other programs read. */
@RestController
class InventoryController {

    /** As its last report told it, whose instant stands in the file (CycloneDX 1.6). */
    @GetMapping(path = "/api/hosts/{name}/cyclonedx", produces = "application/json")
    ResponseEntity<String> cycloneDx(@PathVariable HostName name, Snapshot snapshot) {
        return ResponseEntity.ok()
                .header(HttpHeaders.CONTENT_DISPOSITION, "attachment; filename=\"" + name + ".cdx.json\"")
                .body(CycloneDxWriter.write(snapshot.fleet()
                        .host(name)
                        .orElseThrow(() -> ProblemException.notFound("there is no host " + name))));
    }
}
