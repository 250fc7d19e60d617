package dev.pinwright.service.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.file.FileKind;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.service.work.Problem;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyStore;
import java.security.cert.Certificate;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Optional;
import java.util.Random;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import javax.imageio.ImageIO;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.pdmodel.PDPage;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What a file is is told from what is in it. */
class FileJudgeTest {
  private static final Instant FROM = Instant.parse("2026-01-01T00:00:00Z");
  private static final Instant UNTIL = Instant.parse("2027-03-03T12:00:00Z");

  @TempDir private Path folder;

  private Judged judge(byte[] content) {
    return judge(content, Optional.empty());
  }

  private Judged judge(byte[] content, Optional<String> password) {
    try {
      return FileJudge.judge(Files.write(folder.resolve("any"), content), password);
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }

  private static byte[] text(String text) {
    return text.getBytes(StandardCharsets.UTF_8);
  }

  private static byte[] picture(String format) throws IOException {
    BufferedImage image = new BufferedImage(640, 400, BufferedImage.TYPE_INT_RGB);
    Random random = new Random(7);
    for (int i = 0; i < 20_000; i++) {
      image.setRGB(random.nextInt(640), random.nextInt(400), random.nextInt());
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    ImageIO.write(image, format, out);
    return out.toByteArray();
  }

  @ParameterizedTest
  @ValueSource(strings = {"png", "jpeg"})
  void aPictureIsReadToItsEnd(String format) throws IOException {
    byte[] whole = picture(format);
    Judged judged = judge(whole);
    assertThat(judged.kind()).isEqualTo(FileKind.PICTURE);
    assertThat(judged.mediaType()).isEqualTo("image/" + format);
    assertThat(judged.about()).endsWith("640 × 400 pixels");
    assertThatThrownBy(() -> judge(Arrays.copyOf(whole, whole.length * 2 / 3)))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("ends too early");
  }

  @Test
  void aCertificateTellsWhoseItIsAndHowLongItHolds() {
    Pki.Identity root = Pki.newRoot("Vellmar staff network", FROM, UNTIL);
    byte[] pem = text("kept by hand\n" + Pki.pem(root.certificate()));
    Judged judged = judge(pem);
    assertThat(judged.kind()).isEqualTo(FileKind.CERTIFICATE);
    assertThat(judged.about()).isEqualTo("certificate of Vellmar staff network, until 2027-03-03");
    assertThat(judged.validUntil()).contains(UNTIL);
    Pki.Identity other = Pki.newRoot("Another", FROM, UNTIL.minus(Duration.ofDays(9)));
    Judged both = judge(text(Pki.pem(root.certificate()) + Pki.pem(other.certificate())));
    assertThat(both.about()).contains("Vellmar staff network and 1 more, until 2027-02-22");
  }

  @Test
  void aKeyComesWithAPasswordOrNotAtAll() throws Exception {
    Pki.Identity root = Pki.newRoot("Vellmar staff network", FROM, UNTIL);
    assertThatThrownBy(() -> judge(text(Pki.pem(root.certificate()) + Pki.pem(root.key()))))
        .hasMessageContaining("private key that anybody can read");
    KeyStore store = KeyStore.getInstance("PKCS12");
    store.load(null, null);
    char[] password = "over the quay".toCharArray();
    store.setKeyEntry("k", root.key(), password, new Certificate[] {root.certificate()});
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    store.store(out, password);
    byte[] sealed = out.toByteArray();
    assertThatThrownBy(() -> judge(sealed)).hasMessageContaining("give its password too");
    assertThatThrownBy(() -> judge(sealed, Optional.of("guessed")))
        .hasMessageContaining("does not open");
    Judged judged = judge(sealed, Optional.of("over the quay"));
    assertThat(judged.about())
        .isEqualTo("key and certificate of Vellmar staff network, until 2027-03-03");
    assertThatThrownBy(() -> judge(Arrays.copyOf(sealed, 200))).hasMessageContaining("broken");
  }

  @Test
  void aScriptNamesWhatRunsIt() {
    Judged judged = judge(text("#!/bin/sh\necho \"good morning\"\n"));
    assertThat(judged.kind()).isEqualTo(FileKind.SCRIPT);
    assertThat(judged.about()).isEqualTo("for /bin/sh");
    assertThatThrownBy(() -> judge(text("#!/bin/sh\r\necho\r\n")))
        .hasMessageContaining("end in CR LF");
  }

  @Test
  void documentsArePagesABookOrText() throws IOException {
    ByteArrayOutputStream pdf = new ByteArrayOutputStream();
    try (PDDocument document = new PDDocument()) {
      document.addPage(new PDPage());
      document.addPage(new PDPage());
      document.save(pdf);
    }
    assertThat(judge(pdf.toByteArray()).about()).isEqualTo("PDF, 2 pages");
    assertThat(judge(text("01 632 960 000 is the office.")).about()).isEqualTo("text, 1 line");
    assertThat(judge(text("Leave them charging at night.\nThank you.")).about())
        .isEqualTo("text, 2 lines");
    assertThat(judge(zip("mimetype", "application/epub+zip", "META-INF/container.xml")).about())
        .isEqualTo("EPUB, a book");
    assertThatThrownBy(() -> judge(zip("mimetype", "something/else", "any")))
        .hasMessageContaining("this is an archive");
  }

  private static byte[] zip(String first, String content, String second) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (ZipOutputStream zip = new ZipOutputStream(out)) {
      zip.putNextEntry(new ZipEntry(first));
      zip.write(text(content));
      zip.putNextEntry(new ZipEntry(second));
    }
    return out.toByteArray();
  }

  @Test
  void aFontTellsItsName() throws IOException {
    try (InputStream in =
        Loader.class.getResourceAsStream(
            "/org/apache/pdfbox/resources/ttf/LiberationSans-Regular.ttf")) {
      byte[] font = in.readAllBytes();
      assertThat(judge(font).kind()).isEqualTo(FileKind.FONT);
      assertThat(judge(font).about()).isEqualTo("Liberation Sans Regular");
      assertThatThrownBy(() -> judge(Arrays.copyOf(font, 300))).hasMessageContaining("broken");
    }
  }

  @Test
  void whatIsNeitherIsRefusedWithWhatWouldBeRight() throws IOException {
    assertThatThrownBy(() -> judge(new byte[0])).hasMessageContaining("empty");
    assertThatThrownBy(() -> judge(new byte[] {1, 2, 0, 3, 10, 0}))
        .hasMessageContaining("pictures (PNG, JPEG)");
    assertThatThrownBy(() -> judge(new byte[] {(byte) 0xfe, (byte) 0xff, 0x41}))
        .hasMessageContaining("neither UTF-8 text");
    try (OutputStream out = Files.newOutputStream(folder.resolve("large"))) {
      out.write(text("#!/bin/sh\n-----BEGIN CERTIFICATE-----\n"));
      out.write(new byte[2 << 20]);
    }
    assertThatThrownBy(() -> FileJudge.judge(folder.resolve("large"), Optional.empty()))
        .hasMessageContaining("this is neither text nor");
  }
}
