package lucid.formats.signature;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.security.KeyFactory;
import java.security.PublicKey;
import java.security.Signature;
import java.security.spec.X509EncodedKeySpec;
import java.util.Base64;
import java.util.HexFormat;
import org.junit.jupiter.api.Test;

class EdwardsKeysTest {

    /** What stands before the bytes of a key in its encoding (RFC 8410, sections 4 and 7). */
    private static final String BEFORE_SECRET = "302e020100300506032b657004220420";

    private static final String BEFORE_OPEN = "302a300506032b6570032100";

    private static String base64(String hex) {
        return Base64.getEncoder().encodeToString(HexFormat.of().parseHex(hex));
    }

    /** RFC 8032, section 7.1, test 2. */
    @Test
    void signsAsTheStandardDoes() {
        String open = "3d4017c3e843895a92b70aa74d1b7ebc9c982ccf2ec4968cc0cd55f12af4660c";
        EdwardsKeys keys = EdwardsKeys.read(
                base64(BEFORE_SECRET + "4ccd089b28ff96da9db6c346ec114e0f5b8a319f35aba624da8cf6ed4fb8a6fb"),
                base64(BEFORE_OPEN + open));
        assertThat(HexFormat.of().formatHex(keys.open())).isEqualTo(open);
        assertThat(HexFormat.of().formatHex(keys.sign(new byte[] {0x72})))
                .isEqualTo("92a009a9f0d4cab8720e820b5f642540a2b27b5416503f8fb3762223ebdb69da"
                        + "085ac1e43e15996e458f3613d0f11d8c387b2eaeb4302aeeb00d291612bb0c00");
    }

    @Test
    void whatItMakesIsReadAgainAndBelievedByThePlatform() throws Exception {
        EdwardsKeys made = EdwardsKeys.make();
        EdwardsKeys again = EdwardsKeys.read(made.secretEncoded(), made.openEncoded());
        byte[] content = "what holds for bridge-04".getBytes(StandardCharsets.UTF_8);
        byte[] signature = again.sign(content);
        PublicKey open = KeyFactory.getInstance("Ed25519")
                .generatePublic(new X509EncodedKeySpec(Base64.getDecoder().decode(made.openEncoded())));
        Signature platform = Signature.getInstance("Ed25519");
        platform.initVerify(open);
        platform.update(content);
        assertThat(platform.verify(signature)).isTrue();
        assertThat(made.verify(content, signature)).isTrue();
    }

    @Test
    void believesNothingThatWasAltered() {
        EdwardsKeys keys = EdwardsKeys.make();
        byte[] content = {1, 2, 3};
        byte[] signature = keys.sign(content);
        assertThat(keys.verify(new byte[] {1, 2, 4}, signature)).isFalse();
        assertThat(EdwardsKeys.make().verify(content, signature)).isFalse();
        signature[40] ^= 1;
        assertThat(keys.verify(content, signature)).isFalse();
        assertThat(keys.verify(content, new byte[3])).isFalse();
        assertThatThrownBy(() -> EdwardsKeys.read("AAAA", "AAAA")).isInstanceOf(RuntimeException.class);
    }
}
