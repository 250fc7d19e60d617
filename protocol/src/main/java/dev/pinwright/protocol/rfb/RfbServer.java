package dev.pinwright.protocol.rfb;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.HashSet;
import java.util.Set;
import java.util.function.Consumer;
import java.util.zip.Deflater;
import org.jspecify.annotations.Nullable;

/**
 * The end that has the screen (RFC 6143: the server). Nobody signs in here: whoever carries the
 * bytes has asked who is at the other end. A screen is told of when it is asked for and has
 * changed, in tiles of 64 by 64, as ZRLE where the other end reads that and raw where it does not.
 * Safe for several threads.
 */
public final class RfbServer {
  /** What the other end may do. */
  public interface Hands {
    /** A finger, or a mouse with its first button, is down or up at a place. */
    void pointer(int x, int y, boolean down);

    /** A key went down or up: an X Window keysym (RFC 6143, 7.5.4). */
    void key(int keysym, boolean down);
  }

  /** A screen: colours as {@code 0xRRGGBB}, line by line. */
  public record Picture(int width, int height, int[] colours) {
    public Picture {
      if (colours.length != width * height || width > 0xffff || height > 0xffff) {
        throw new IllegalArgumentException("a picture has a colour for each place");
      }
    }
  }

  private static final byte[] VERSION = "RFB 003.008\n".getBytes(StandardCharsets.US_ASCII);
  private static final int NONE = 1;
  private static final int RAW = 0;
  private static final int ZRLE = 16;
  private static final int TILE = 64;
  private static final int SOLID = 1;
  private static final int RECTANGLE_BYTES = 12;
  private static final int MOST_ENCODINGS = 4096;
  private static final int MOST_CUT = 64 * 1024;

  private static final int SET_PIXEL_FORMAT = 0;
  private static final int SET_ENCODINGS = 2;
  private static final int UPDATE_REQUEST = 3;
  private static final int KEY = 4;
  private static final int POINTER = 5;
  private static final int CUT_TEXT = 6;

  private enum Step {
    VERSION,
    SECURITY,
    INIT,
    TALKING
  }

  private final String name;
  private final Hands hands;
  private final Consumer<byte[]> out;
  private final Deflater deflater = new Deflater();
  private final Set<Integer> encodings = new HashSet<>();
  private Picture picture;
  private ByteBuffer unread = ByteBuffer.allocate(0);
  private Step step = Step.VERSION;
  private PixelFormat format = PixelFormat.USUAL;
  private int @Nullable [] told;
  private boolean asked;
  private boolean closed;

  /**
   * One connection.
   *
   * @param name of what is seen
   * @param first what is on the screen now; it keeps its size
   * @param out where bytes go, in order
   */
  public RfbServer(String name, Picture first, Hands hands, Consumer<byte[]> out) {
    this.name = name;
    this.picture = first;
    this.hands = hands;
    this.out = out;
  }

  /** Says the first word, which is the server's. */
  public synchronized void open() {
    out.accept(VERSION.clone());
  }

  /**
   * Takes bytes as they come, whole messages or not.
   *
   * @throws MalformedRfb when they are not the protocol
   */
  public synchronized void receive(byte[] bytes) throws MalformedRfb {
    if (closed) {
      return;
    }
    ByteBuffer in = ByteBuffer.allocate(unread.remaining() + bytes.length);
    in.put(unread).put(bytes).flip();
    while (in.hasRemaining() && take(in)) {
      // the next message
    }
    unread = in.slice();
  }

  /**
   * Shows another picture of the same size; it is told now if the other end waits for it.
   *
   * @throws IllegalArgumentException when it has another size
   */
  public synchronized void show(Picture next) {
    if (next.width() != picture.width() || next.height() != picture.height()) {
      throw new IllegalArgumentException("a screen keeps its size");
    }
    picture = next;
    update();
  }

  /** Takes one message; false where not all of it has come. */
  private boolean take(ByteBuffer in) throws MalformedRfb {
    return switch (step) {
      case VERSION -> version(in);
      case SECURITY -> security(in);
      case INIT -> init(in);
      case TALKING -> message(in);
    };
  }

  private boolean version(ByteBuffer in) throws MalformedRfb {
    if (in.remaining() < VERSION.length) {
      return false;
    }
    byte[] said = new byte[VERSION.length];
    in.get(said);
    if (!Arrays.equals(said, VERSION)) {
      throw new MalformedRfb("version 3.8 is spoken here");
    }
    out.accept(new byte[] {1, NONE});
    step = Step.SECURITY;
    return true;
  }

  private boolean security(ByteBuffer in) throws MalformedRfb {
    if (in.get() != NONE) {
      throw new MalformedRfb("nobody signs in here");
    }
    out.accept(new byte[4]);
    step = Step.INIT;
    return true;
  }

  private boolean init(ByteBuffer in) {
    in.get(); // whether others may watch as well; nobody does
    byte[] title = name.getBytes(StandardCharsets.UTF_8);
    ByteBuffer b = ByteBuffer.allocate(4 + PixelFormat.BYTES + 4 + title.length);
    b.putShort((short) picture.width()).putShort((short) picture.height());
    format.write(b);
    b.putInt(title.length).put(title);
    out.accept(b.array());
    step = Step.TALKING;
    return true;
  }

  private boolean message(ByteBuffer in) throws MalformedRfb {
    int start = in.position();
    boolean whole =
        switch (in.get()) {
          case SET_PIXEL_FORMAT -> pixelFormat(in);
          case SET_ENCODINGS -> encodings(in);
          case UPDATE_REQUEST -> request(in);
          case KEY -> key(in);
          case POINTER -> pointer(in);
          case CUT_TEXT -> cutText(in);
          default -> throw new MalformedRfb("there is no such message");
        };
    if (!whole) {
      in.position(start);
    }
    return whole;
  }

  private boolean pixelFormat(ByteBuffer in) throws MalformedRfb {
    if (in.remaining() < 3 + PixelFormat.BYTES) {
      return false;
    }
    in.position(in.position() + 3);
    format = PixelFormat.read(in);
    return true;
  }

  private boolean encodings(ByteBuffer in) throws MalformedRfb {
    if (in.remaining() < 3) {
      return false;
    }
    in.get();
    int n = in.getShort() & 0xffff;
    if (n > MOST_ENCODINGS) {
      throw new MalformedRfb("there are not so many encodings");
    }
    if (in.remaining() < 4 * n) {
      return false;
    }
    encodings.clear();
    for (int i = 0; i < n; i++) {
      encodings.add(in.getInt());
    }
    return true;
  }

  private boolean request(ByteBuffer in) {
    if (in.remaining() < 9) {
      return false;
    }
    boolean changesAlone = in.get() != 0;
    in.position(in.position() + 8); // a part of it; all of it is told, which is never less
    if (!changesAlone) {
      told = null;
    }
    asked = true;
    update();
    return true;
  }

  private boolean key(ByteBuffer in) {
    if (in.remaining() < 7) {
      return false;
    }
    boolean down = in.get() != 0;
    in.getShort();
    hands.key(in.getInt(), down);
    return true;
  }

  private boolean pointer(ByteBuffer in) {
    if (in.remaining() < 5) {
      return false;
    }
    boolean down = (in.get() & 1) != 0;
    hands.pointer(in.getShort() & 0xffff, in.getShort() & 0xffff, down);
    return true;
  }

  private boolean cutText(ByteBuffer in) throws MalformedRfb {
    if (in.remaining() < 7) {
      return false;
    }
    in.position(in.position() + 3);
    int n = in.getInt();
    if (n < 0 || n > MOST_CUT) {
      throw new MalformedRfb("a text that was cut has at most 65536 bytes");
    }
    if (in.remaining() < n) {
      return false;
    }
    in.position(in.position() + n); // there is nowhere to paste it
    return true;
  }

  // ---- telling ---------------------------------------------------------------------------------

  private void update() {
    if (!asked || closed) {
      return;
    }
    ByteArrayOutputStream rectangles = new ByteArrayOutputStream();
    int n = 0;
    for (int y = 0; y < picture.height(); y += TILE) {
      for (int x = 0; x < picture.width(); x += TILE) {
        int w = Math.min(TILE, picture.width() - x);
        int h = Math.min(TILE, picture.height() - y);
        if (changed(x, y, w, h)) {
          rectangles.writeBytes(encodings.contains(ZRLE) ? zrle(x, y, w, h) : raw(x, y, w, h));
          n++;
        }
      }
    }
    if (n == 0) {
      return;
    }
    told = picture.colours().clone();
    asked = false;
    ByteBuffer b = ByteBuffer.allocate(4 + rectangles.size());
    b.putShort((short) 0).putShort((short) n).put(rectangles.toByteArray());
    out.accept(b.array());
  }

  private boolean changed(int x, int y, int w, int h) {
    int[] before = told;
    for (int line = y; before != null && line < y + h; line++) {
      int from = line * picture.width() + x;
      if (!Arrays.equals(before, from, from + w, picture.colours(), from, from + w)) {
        return true;
      }
    }
    return before == null;
  }

  private int colour(int x, int y) {
    return picture.colours()[y * picture.width() + x] & 0xffffff;
  }

  private static ByteBuffer rectangle(int x, int y, int w, int h, int encoding, int bytes) {
    ByteBuffer b = ByteBuffer.allocate(RECTANGLE_BYTES + bytes);
    b.putShort((short) x).putShort((short) y).putShort((short) w).putShort((short) h);
    return b.putInt(encoding);
  }

  private byte[] raw(int x, int y, int w, int h) {
    ByteBuffer b = rectangle(x, y, w, h, RAW, w * h * format.bits() / 8);
    for (int line = y; line < y + h; line++) {
      for (int column = x; column < x + w; column++) {
        format.put(b, colour(column, line));
      }
    }
    return b.array();
  }

  /** One tile; of one colour, or pixel by pixel, which the deflating makes short. */
  private byte[] zrle(int x, int y, int w, int h) {
    int first = colour(x, y);
    boolean solid = true;
    ByteBuffer tile = ByteBuffer.allocate(1 + w * h * format.compactBytes());
    tile.put((byte) RAW);
    for (int line = y; line < y + h; line++) {
      for (int column = x; column < x + w; column++) {
        solid &= colour(column, line) == first;
        format.putCompact(tile, colour(column, line));
      }
    }
    if (solid) {
      tile.clear();
      tile.put((byte) SOLID);
      format.putCompact(tile, first);
    }
    byte[] deflated = deflated(tile.array(), tile.position());
    ByteBuffer b = rectangle(x, y, w, h, ZRLE, 4 + deflated.length);
    return b.putInt(deflated.length).put(deflated).array();
  }

  private byte[] deflated(byte[] bytes, int length) {
    ByteArrayOutputStream to = new ByteArrayOutputStream();
    byte[] part = new byte[4096];
    deflater.setInput(bytes, 0, length);
    int n;
    do {
      n = deflater.deflate(part, 0, part.length, Deflater.SYNC_FLUSH);
      to.write(part, 0, n);
    } while (n == part.length);
    return to.toByteArray();
  }

  /** Says nothing any more. */
  public synchronized void close() {
    if (!closed) {
      deflater.end();
    }
    closed = true;
  }
}
