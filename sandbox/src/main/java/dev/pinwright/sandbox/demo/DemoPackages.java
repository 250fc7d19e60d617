package dev.pinwright.sandbox.demo;

import dev.pinwright.protocol.pack.Manifest;
import dev.pinwright.protocol.pack.PackageMaker;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.protocol.pki.Pki;
import java.awt.Color;
import java.awt.Font;
import java.awt.GradientPaint;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.image.BufferedImage;
import java.io.File;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Random;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import javax.imageio.ImageIO;

/** Packages of made-up apps, as one publisher makes and signs them. */
final class DemoPackages {
  private static final int ICON = 192;
  private static final int ARC = 84;
  private static final int PAYLOAD = 48_000;

  private final String publisher;
  private final Pki.Identity signer;

  /**
   * @param signedBy name in the certificate it signs with
   */
  DemoPackages(String publisher, String signedBy) {
    this.publisher = publisher;
    Instant now = Instant.now();
    signer = Pki.newRoot(signedBy, now.minus(Duration.ofDays(200)), now.plus(Duration.ofDays(500)));
  }

  /** An app: what its manifest says besides, and the colour of its icon. */
  record App(
      String id,
      String name,
      String category,
      String summary,
      Color colour,
      List<String> platforms,
      String more) {}

  /** A package of one version, signed. */
  byte[] packed(App own, int code, String version, String notes)
      throws IOException, PackageRefused {
    Path folder = Files.createTempDirectory("app");
    Path file = Files.createTempFile("app", ".pkg");
    try {
      Files.writeString(
          folder.resolve(Manifest.FILE),
          """
          {"id":"%s","name":"%s","publisher":"%s","summary":"%s","category":"%s",
           "version":"%s","versionCode":%d,"platforms":%s,"icon":"icon.png",
           "size":%d,"notes":"%s",%s}
          """
              .formatted(
                  own.id(),
                  own.name(),
                  publisher,
                  own.summary(),
                  own.category(),
                  version,
                  code,
                  own.platforms().stream().collect(Collectors.joining("\",\"", "[\"", "\"]")),
                  48_000_000 + code * 1_300_000L,
                  notes.replace("\n", "\\n"),
                  own.more()));
      ImageIO.write(icon(own), "png", folder.resolve("icon.png").toFile());
      byte[] payload = new byte[PAYLOAD];
      new Random(own.id().hashCode() + code).nextBytes(payload);
      Files.createDirectory(folder.resolve("payload"));
      Files.write(folder.resolve("payload/app.bin"), payload);
      PackageMaker.make(folder, file);
      PackageMaker.sign(file, signer.key(), List.of(signer.certificate()));
      return Files.readAllBytes(file);
    } finally {
      Files.deleteIfExists(file);
      try (Stream<Path> all = Files.walk(folder)) {
        all.sorted(Comparator.reverseOrder()).map(Path::toFile).forEach(File::delete);
      }
    }
  }

  private static BufferedImage icon(App own) {
    BufferedImage icon = new BufferedImage(ICON, ICON, BufferedImage.TYPE_INT_ARGB);
    Graphics2D g = icon.createGraphics();
    g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
    g.setRenderingHint(
        RenderingHints.KEY_TEXT_ANTIALIASING, RenderingHints.VALUE_TEXT_ANTIALIAS_ON);
    g.setPaint(new GradientPaint(0, 0, own.colour().brighter(), 0, ICON, own.colour().darker()));
    g.fillRoundRect(0, 0, ICON, ICON, ARC, ARC);
    g.setColor(new Color(255, 255, 255, 40));
    g.fillOval(ICON / 2, -ICON / 3, ICON, ICON);
    g.setColor(Color.WHITE);
    g.setFont(new Font(Font.SANS_SERIF, Font.BOLD, ICON / 2));
    String letter = own.name().substring(0, 1);
    var box = g.getFontMetrics();
    g.drawString(
        letter,
        (ICON - box.stringWidth(letter)) / 2,
        (ICON - box.getHeight()) / 2 + box.getAscent());
    g.dispose();
    return icon;
  }
}
