package lucid.server.access;

import java.time.Instant;

/** What an authenticator shows. */
public final class SecondFactorCodes {

    private SecondFactorCodes() {}

    public static String at(String key, Instant now) {
        return SecondFactor.code(key, now);
    }
}
