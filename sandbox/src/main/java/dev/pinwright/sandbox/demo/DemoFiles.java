package dev.pinwright.sandbox.demo;

import dev.pinwright.protocol.pki.Pki;
import java.awt.Color;
import java.awt.GradientPaint;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.geom.Path2D;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import javax.imageio.ImageIO;

/** Files of the museums, drawn and written here. */
final class DemoFiles {
  private static final int WIDTH = 960;
  private static final int HEIGHT = 1280;
  private static final int RIDGES = 4;

  private DemoFiles() {}

  /** A picture of hills over water, in the colours of a time of day. */
  static byte[] landscape(Color sky, Color glow, Color far, Color near) {
    BufferedImage picture = new BufferedImage(WIDTH, HEIGHT, BufferedImage.TYPE_INT_RGB);
    Graphics2D g = picture.createGraphics();
    g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
    g.setPaint(new GradientPaint(0, 0, sky, 0, HEIGHT * 0.6f, glow));
    g.fillRect(0, 0, WIDTH, HEIGHT);
    for (int i = 0; i < RIDGES; i++) {
      double share = i / (RIDGES - 1.0);
      g.setColor(
          new Color(
              mixed(far.getRed(), near.getRed(), share),
              mixed(far.getGreen(), near.getGreen(), share),
              mixed(far.getBlue(), near.getBlue(), share)));
      g.fill(ridge(HEIGHT * (0.52 + 0.12 * i), 70 - 9 * i, 1.7 + i));
    }
    g.dispose();
    try {
      ByteArrayOutputStream out = new ByteArrayOutputStream();
      ImageIO.write(picture, "png", out);
      return out.toByteArray();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static int mixed(int from, int to, double share) {
    return (int) Math.round(from + (to - from) * share);
  }

  private static Path2D ridge(double height, double rise, double waves) {
    Path2D ridge = new Path2D.Double();
    ridge.moveTo(0, HEIGHT);
    for (int x = 0; x <= WIDTH; x += 8) {
      double along = x / (double) WIDTH * Math.PI * waves;
      ridge.lineTo(x, height - rise * (Math.sin(along) + 0.4 * Math.sin(2.3 * along + waves)));
    }
    ridge.lineTo(WIDTH, HEIGHT);
    ridge.closePath();
    return ridge;
  }

  /** The root certificate of a network, as PEM (RFC 7468). */
  static byte[] root(String name, Instant now, Duration left) {
    Instant from = now.minus(Duration.ofDays(365));
    return Pki.pem(Pki.newRoot(name, from, now.plus(left)).certificate())
        .getBytes(StandardCharsets.US_ASCII);
  }

  /** What holders may read. */
  static byte[] houseRules() {
    return """
        Vellmar Museums: using our devices

        They are yours to work with, and the museum's to look after.
        Leave them charging in the gallery office at night.
        Lost one? Call the office at once: it can be locked and found.
        Do not write visitors' names down on them.
        """
        .getBytes(StandardCharsets.UTF_8);
  }

  /** What laptops do when somebody signs in. */
  static byte[] signInScript() {
    return """
        #!/bin/sh
        # connects the drive of the trust office
        mount-drive //files.vellmar.example/office "$HOME/Office"
        """
        .getBytes(StandardCharsets.UTF_8);
  }
}
