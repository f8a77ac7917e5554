package lucid.server.storage;

import java.nio.file.Path;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** The files of the data folder as a running server uses them. */
@Configuration
class StorageConfiguration {

    @Bean
    DataFolder dataFolder(@Value("${lucid.data}") Path path) {
        return new DataFolder(path);
    }

    @Bean
    AuditHead recordHead(DataFolder folder) {
        return new AuditHead(folder.path());
    }
}
