package lucid.server.digest;

import java.util.Optional;
import java.util.Properties;
import lucid.server.storage.Settings;
import org.springframework.mail.MailException;
import org.springframework.mail.SimpleMailMessage;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/** The server by which mails are sent (SMTP, RFC 5321), as an administrator set it. */
@Component
class MailServer {

    private static final String SETTING = "mail-server";
    private static final String SECONDS_20 = "20000";

    private final Settings settings;
    private final JsonMapper json;

    MailServer(Settings settings, JsonMapper json) {
        this.settings = settings;
        this.json = json;
    }

    enum Security {
        /** In the open: for a server on the same machine. */
        NONE,
        /** It begins in the open and is refused if it cannot go on encrypted (RFC 3207). */
        STARTTLS,
        /** Encrypted from the start (RFC 8314). */
        TLS
    }

    /**
     * @param password kept as it is in the database, which its owner alone can read
     * @param from address from which mails come
     * @param address of this server, to which links in mails lead
     */
    record Configured(
            String host,
            int port,
            Security security,
            Optional<String> user,
            Optional<String> password,
            String from,
            String address) {}

    Optional<Configured> configured() {
        return settings.find(SETTING)
                .filter(text -> !text.isEmpty())
                .map(text -> json.readValue(text, Configured.class));
    }

    /** Only within a write. */
    void keep(Optional<Configured> configured) {
        settings.keep(SETTING, configured.map(json::writeValueAsString).orElse(""));
    }

    /** @throws MailException if it does not take the mail */
    static void send(Configured by, String to, String subject, String text) {
        JavaMailSenderImpl sender = new JavaMailSenderImpl();
        sender.setHost(by.host());
        sender.setPort(by.port());
        sender.setDefaultEncoding("UTF-8");
        by.user().ifPresent(sender::setUsername);
        by.password().ifPresent(sender::setPassword);
        sender.setProtocol(by.security() == Security.TLS ? "smtps" : "smtp");
        Properties properties = sender.getJavaMailProperties();
        String prefix = "mail." + sender.getProtocol();
        properties.put(prefix + ".auth", String.valueOf(by.user().isPresent()));
        properties.put(prefix + ".starttls.enable", String.valueOf(by.security() == Security.STARTTLS));
        properties.put(prefix + ".starttls.required", String.valueOf(by.security() == Security.STARTTLS));
        properties.put(prefix + ".ssl.checkserveridentity", "true");
        properties.put(prefix + ".connectiontimeout", SECONDS_20);
        properties.put(prefix + ".timeout", SECONDS_20);
        properties.put(prefix + ".writetimeout", SECONDS_20);
        SimpleMailMessage mail = new SimpleMailMessage();
        mail.setFrom(by.from());
        mail.setTo(to);
        mail.setSubject(subject);
        mail.setText(text);
        sender.send(mail);
    }
}
