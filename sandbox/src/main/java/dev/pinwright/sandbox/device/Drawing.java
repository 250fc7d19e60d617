package dev.pinwright.sandbox.device;

import dev.pinwright.protocol.rfb.RfbServer;
import java.awt.Color;
import java.awt.Font;
import java.awt.FontMetrics;
import java.awt.Graphics2D;
import java.awt.Rectangle;
import java.awt.RenderingHints;
import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javax.imageio.ImageIO;

/**
 * What is on a device's screen, drawn for somebody who is not in front of it, and what a tap at
 * each place would do. Of the organisation's apps alone nothing else is drawn: not the home screen,
 * not a message, not an app of the holder's own.
 */
final class Drawing {
  /** What typing it does: takes the last character away. */
  static final int BACKSPACE = 8;

  private static final Color PAPER = new Color(0xfffefa);
  private static final Color INK = new Color(0x1e2f4d);
  private static final Color QUIET = new Color(0x5b6675);
  private static final Color BRASS = new Color(0x8a6a1f);
  private static final Color NIGHT = new Color(0x17202f);
  private static final Color CHALK = new Color(0xf1ede2);
  private static final int[] COLOURS = {
    0x2d6270, 0x8a4f3d, 0x6c5a2e, 0x5b4a78, 0x2f5d50, 0x3c4f76, 0x7d6a1f, 0x74544a, 0x4d5b34,
    0x41607a, 0x8a3f52
  };
  private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("HH:mm");
  private static final int BAR = 26;
  private static final int MARGIN = 22;
  private static final int TILE = 64;
  private static final int SMALL = 13;
  private static final int USUAL = 16;
  private static final int TITLE = 24;
  private static final int CLOCK = 56;

  private final Screen screen;
  private final BufferedImage image;
  private final Graphics2D g;
  private final List<Area> areas = new ArrayList<>();
  private boolean takesText;

  /** A place that does something: {@code app:ID}, {@code home}, {@code stop}, {@code read}. */
  record Area(Rectangle place, String does) {}

  /**
   * Draws.
   *
   * @param whole whether everything is drawn, or the organisation's apps alone
   */
  Drawing(Screen screen, boolean whole) {
    this.screen = screen;
    int[] size =
        switch (screen.kind()) {
          case "phone" -> new int[] {360, 680};
          case "tablet" -> new int[] {560, 720};
          default -> new int[] {960, 600};
        };
    image = new BufferedImage(size[0], size[1], BufferedImage.TYPE_INT_RGB);
    g = image.createGraphics();
    g.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
    g.setRenderingHint(
        RenderingHints.KEY_TEXT_ANTIALIASING, RenderingHints.VALUE_TEXT_ANTIALIAS_ON);
    fill(PAPER);
    if (!whole && !atWork()) {
      covered();
    } else {
      shown();
      if (whole) {
        over();
      }
    }
    bar();
    g.dispose();
  }

  /** As pixels. */
  RfbServer.Picture picture() {
    int w = image.getWidth();
    int h = image.getHeight();
    return new RfbServer.Picture(w, h, image.getRGB(0, 0, w, h, null, 0, w));
  }

  /** As a PNG. */
  byte[] png() {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try {
      ImageIO.write(image, "png", out);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return out.toByteArray();
  }

  /** What a tap at a place does; nothing mostly. What lies above counts. */
  Optional<String> at(int x, int y) {
    for (int i = areas.size() - 1; i >= 0; i--) {
      if (areas.get(i).place().contains(x, y)) {
        return Optional.of(areas.get(i).does()).filter(d -> !d.isEmpty());
      }
    }
    return Optional.empty();
  }

  /** Whether something is on show that can be typed into. */
  boolean takesText() {
    return takesText;
  }

  /** Whether one of the organisation's apps is on show, and nothing lies over it. */
  private boolean atWork() {
    return screen.screen().equals("kiosk") || opened().filter(Screen.Tile::managed).isPresent();
  }

  private Optional<Screen.Tile> opened() {
    return screen.screen().equals("home")
        ? screen
            .opened()
            .flatMap(o -> screen.installed().stream().filter(t -> t.id().equals(o)).findFirst())
        : Optional.empty();
  }

  private void shown() {
    switch (screen.screen()) {
      case "locked", "resting" -> locked();
      case "sign-in" -> page("Sign in", screen.signIn().map(Screen.SignIn::banner).orElse(""));
      case "passcode" -> page("Choose a passcode", screen.passcodeDemand());
      case "kiosk" -> screen.kiosk().ifPresent(this::kiosk);
      case "asleep", "off" -> fill(Color.BLACK);
      case "home" -> opened().ifPresentOrElse(this::app, this::home);
      default -> page("One moment", screen.reason());
    }
  }

  private void covered() {
    fill(new Color(0xe9e5da));
    g.setColor(QUIET);
    int y = image.getHeight() / 2 - 30;
    centred("The holder's own", TITLE, y);
    centred("Only the organisation's apps are shown.", SMALL, y + 30);
  }

  private void bar() {
    boolean watched = screen.watched().isPresent();
    g.setColor(watched ? BRASS : PAPER);
    g.fillRect(0, 0, image.getWidth(), BAR);
    g.setColor(watched ? Color.WHITE : QUIET);
    String time = LocalTime.now(ZoneId.systemDefault()).format(TIME);
    text(screen.watched().map(w -> w.by() + " sees this").orElse(time), SMALL, 14, 18);
    String right = (watched ? time + "   " : "") + Math.round(screen.battery()) + " %";
    text(right, SMALL, image.getWidth() - 14 - width(right, SMALL), 18);
    areas.add(new Area(new Rectangle(0, 0, image.getWidth(), BAR), ""));
  }

  private void locked() {
    fill(NIGHT);
    g.setColor(CHALK);
    centred(LocalTime.now(ZoneId.systemDefault()).format(TIME), CLOCK, 170);
    String words = screen.lockText().isEmpty() ? "Locked" : screen.lockText();
    int y = lines(words, USUAL, 220, true);
    if (!screen.lockPhone().isEmpty()) {
      centred("Call " + screen.lockPhone(), USUAL, y + 10);
    }
  }

  private void page(String title, String words) {
    g.setColor(INK);
    centred(title, TITLE, 200);
    lines(words, USUAL, 240, true);
  }

  private void home() {
    g.setColor(INK);
    text(LocalTime.now(ZoneId.systemDefault()).format(TIME), CLOCK, MARGIN, BAR + 70);
    List<Screen.App> apps =
        screen.installed().stream()
            .map(t -> new Screen.App(t.id(), t.name(), t.usable(), t.opens()))
            .toList();
    tiles(apps, columns(), BAR + 110);
  }

  private int columns() {
    return Math.max(3, (image.getWidth() - 2 * MARGIN) / 110);
  }

  private void kiosk(Screen.KioskView kiosk) {
    if (kiosk.open().isPresent()) {
      Screen.App open = kiosk.open().get();
      appPage(open.id(), open.name(), !kiosk.one() && !kiosk.off().contains("home-button"));
      return;
    }
    g.setColor(INK);
    text(kiosk.title(), TITLE, MARGIN, BAR + 50);
    int y = BAR + 80;
    for (List<Optional<Screen.App>> row : kiosk.rows()) {
      tiles(row.stream().flatMap(Optional::stream).toList(), Math.max(1, kiosk.columns()), y);
      y += 120;
    }
    tiles(kiosk.dock(), Math.max(1, kiosk.columns()), image.getHeight() - 120);
  }

  private void tiles(List<Screen.App> apps, int columns, int top) {
    int wide = (image.getWidth() - 2 * MARGIN) / columns;
    for (int i = 0; i < apps.size(); i++) {
      Screen.App app = apps.get(i);
      int x = MARGIN + i % columns * wide;
      int y = top + i / columns * 120;
      mark(app.id(), app.name(), x + (wide - TILE) / 2, y, TILE, app.there());
      g.setColor(app.there() ? INK : QUIET);
      String name = fitting(app.name(), wide - 6);
      text(name, SMALL, x + (wide - width(name, SMALL)) / 2, y + TILE + 18);
      if (app.there()) {
        areas.add(new Area(new Rectangle(x, y, wide, 100), "app:" + app.id()));
      }
    }
  }

  private void mark(String id, String name, int x, int y, int size, boolean there) {
    int sum = 7;
    for (char c : id.toCharArray()) {
      sum = (sum * 31 + c) % 9973;
    }
    g.setColor(there ? new Color(COLOURS[sum % COLOURS.length]) : new Color(0xc9c4b7));
    g.fillRoundRect(x, y, size, size, size / 3, size / 3);
    g.setColor(Color.WHITE);
    String first = name.isEmpty() ? "" : name.substring(0, 1);
    text(first, size / 2, x + (size - width(first, size / 2)) / 2, y + size * 2 / 3);
  }

  private void app(Screen.Tile tile) {
    appPage(tile.id(), tile.name(), true);
    g.setColor(QUIET);
    centred("Version " + tile.version(), SMALL, BAR + 190);
  }

  private void appPage(String id, String name, boolean closes) {
    mark(id, name, (image.getWidth() - 88) / 2, BAR + 40, 88, true);
    g.setColor(INK);
    centred(name, TITLE, BAR + 165);
    Rectangle field = new Rectangle(MARGIN, BAR + 220, image.getWidth() - 2 * MARGIN, 120);
    g.setColor(new Color(0xd9d4c7));
    g.drawRoundRect(field.x, field.y, field.width, field.height, 10, 10);
    g.setColor(screen.written().isEmpty() ? QUIET : INK);
    takesText = true;
    lines(screen.written().isEmpty() ? "Type here" : screen.written(), USUAL, field.y + 28, false);
    if (closes) {
      button("Close", field.y + field.height + 30, "home");
    }
  }

  /** What lies over everything else. What the holder is asked is answered by nobody else. */
  private void over() {
    if (screen.ringing()) {
      sheet("Ringing", screen.ringText());
      button("Stop", image.getHeight() - 70, "stop");
    } else if (screen.question().isPresent()) {
      sheet("Your organisation asks", screen.question().get());
      g.setColor(QUIET);
      centred("The holder answers this.", SMALL, image.getHeight() - 40);
    } else if (screen.messages().stream().anyMatch(m -> !m.read())) {
      String words =
          String.join(
              "\n",
              screen.messages().stream().filter(m -> !m.read()).map(Screen.Message::text).toList());
      sheet("Message from your organisation", words);
      button("Put away", image.getHeight() - 70, "read");
    }
  }

  private void sheet(String title, String words) {
    int top = image.getHeight() - 250;
    g.setColor(new Color(0xf6f4ee));
    g.fillRect(0, top, image.getWidth(), 250);
    g.setColor(BRASS);
    g.fillRect(0, top, image.getWidth(), 3);
    areas.clear();
    takesText = false;
    g.setColor(INK);
    text(title, USUAL + 2, MARGIN, top + 40);
    lines(words, USUAL, top + 72, false);
  }

  private void button(String label, int y, String does) {
    int wide = width(label, USUAL) + 44;
    Rectangle place = new Rectangle((image.getWidth() - wide) / 2, y, wide, 40);
    g.setColor(BRASS);
    g.fillRoundRect(place.x, place.y, place.width, place.height, 12, 12);
    g.setColor(Color.WHITE);
    centred(label, USUAL, y + 26);
    areas.add(new Area(place, does));
  }

  private void fill(Color colour) {
    g.setColor(colour);
    g.fillRect(0, 0, image.getWidth(), image.getHeight());
  }

  // ---- text ------------------------------------------------------------------------------------

  private FontMetrics font(int size) {
    g.setFont(new Font(Font.SANS_SERIF, Font.PLAIN, size));
    return g.getFontMetrics();
  }

  private int width(String words, int size) {
    return font(size).stringWidth(words);
  }

  private void text(String words, int size, int x, int y) {
    font(size);
    g.drawString(words, x, y);
  }

  private void centred(String words, int size, int y) {
    text(words, size, (image.getWidth() - width(words, size)) / 2, y);
  }

  private String fitting(String words, int wide) {
    String out = words;
    while (out.length() > 1 && width(out, SMALL) > wide) {
      out = out.substring(0, out.length() - 2).stripTrailing() + "…";
    }
    return out;
  }

  /** Lines that fit, broken at spaces; where the next one would be. */
  private int lines(String words, int size, int top, boolean centred) {
    int y = top;
    int wide = image.getWidth() - 2 * MARGIN - 20;
    for (String paragraph : words.split("\n")) {
      StringBuilder line = new StringBuilder();
      for (String word : paragraph.split(" ")) {
        if (!line.isEmpty() && width(line + " " + word, size) > wide) {
          y = line(line.toString(), size, y, centred);
          line.setLength(0);
        }
        line.append(line.isEmpty() ? "" : " ").append(word);
      }
      y = line(line.toString(), size, y, centred);
    }
    return y;
  }

  private int line(String words, int size, int y, boolean centred) {
    text(words, size, centred ? (image.getWidth() - width(words, size)) / 2 : MARGIN + 10, y);
    return y + size * 3 / 2;
  }
}
