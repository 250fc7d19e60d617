package dev.pinwright.protocol.rfb;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.protocol.rfb.RfbServer.Picture;
import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.zip.DataFormatException;
import java.util.zip.Inflater;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A screen over a wire (RFC 6143)")
class RfbServerTest {
  private static final int WIDTH = 150;
  private static final int HEIGHT = 100;
  private static final byte[] VERSION = "RFB 003.008\n".getBytes(StandardCharsets.US_ASCII);

  private final ByteArrayOutputStream said = new ByteArrayOutputStream();
  private final List<String> done = new ArrayList<>();
  private final RfbServer.Hands hands =
      new RfbServer.Hands() {
        @Override
        public void pointer(int x, int y, boolean down) {
          done.add((down ? "down " : "up ") + x + "," + y);
        }

        @Override
        public void key(int keysym, boolean down) {
          done.add((down ? "press " : "release ") + (char) keysym);
        }
      };
  private final int[] seen = new int[WIDTH * HEIGHT];
  private final Inflater inflater = new Inflater();

  private final RfbServer server =
      new RfbServer("Gallery 07", plain(0x102030), hands, said::writeBytes);

  private static Picture plain(int colour) {
    int[] colours = new int[WIDTH * HEIGHT];
    Arrays.fill(colours, colour);
    return new Picture(WIDTH, HEIGHT, colours);
  }

  private static Picture noise(long seed) {
    Random random = new Random(seed);
    return new Picture(WIDTH, HEIGHT, random.ints((long) WIDTH * HEIGHT, 0, 0x1000000).toArray());
  }

  private ByteBuffer said() {
    ByteBuffer b = ByteBuffer.wrap(said.toByteArray());
    said.reset();
    return b;
  }

  private void shakeHands() throws MalformedRfb {
    server.open();
    assertThat(said().array()).isEqualTo(VERSION);
    server.receive(VERSION);
    assertThat(said().array()).containsExactly(1, 1);
    server.receive(new byte[] {1});
    assertThat(said().array()).containsExactly(0, 0, 0, 0);
    server.receive(new byte[] {1});
  }

  private static byte[] encodings(int... encodings) {
    ByteBuffer b = ByteBuffer.allocate(4 + 4 * encodings.length);
    b.put((byte) 2).put((byte) 0).putShort((short) encodings.length);
    Arrays.stream(encodings).forEach(b::putInt);
    return b.array();
  }

  private static byte[] format(PixelFormat format) {
    ByteBuffer b = ByteBuffer.allocate(4 + PixelFormat.BYTES);
    b.putInt(0);
    format.write(b);
    return b.array();
  }

  private static byte[] request(boolean changesAlone) {
    ByteBuffer b = ByteBuffer.allocate(10);
    b.put((byte) 3).put((byte) (changesAlone ? 1 : 0)).putInt(0);
    return b.putShort((short) WIDTH).putShort((short) HEIGHT).array();
  }

  /** Reads an update into what is seen, its pixels blue first in 32 bits; how many rectangles. */
  private int look(ByteBuffer update) throws DataFormatException {
    assertThat(update.getShort()).isZero();
    int n = update.getShort();
    for (int i = 0; i < n; i++) {
      int x = update.getShort();
      int y = update.getShort();
      int w = update.getShort();
      int h = update.getShort();
      boolean zrle = update.getInt() == 16;
      ByteBuffer pixels = update;
      int bytes = 4;
      int kind = 0;
      if (zrle) {
        byte[] deflated = new byte[update.getInt()];
        update.get(deflated);
        inflater.setInput(deflated);
        byte[] out = new byte[1 + w * h * 3];
        int got = inflater.inflate(out);
        pixels = ByteBuffer.wrap(out, 0, got);
        kind = pixels.get();
        bytes = 3;
        assertThat(got).isEqualTo(kind == 1 ? 4 : out.length);
      }
      int solid = kind == 1 ? pixel(pixels, bytes) : 0;
      for (int k = 0; k < w * h; k++) {
        seen[(y + k / w) * WIDTH + x + k % w] = kind == 1 ? solid : pixel(pixels, bytes);
      }
    }
    assertThat(update.hasRemaining()).isFalse();
    return n;
  }

  private static int pixel(ByteBuffer from, int bytes) {
    int pixel = 0;
    for (int i = 0; i < bytes; i++) {
      pixel |= (from.get() & 0xff) << 8 * i;
    }
    return pixel;
  }

  @Test
  @DisplayName("says its size, its pixels and its name before anything is drawn")
  void begins() throws Exception {
    shakeHands();

    ByteBuffer init = said();
    assertThat(init.getShort()).isEqualTo((short) WIDTH);
    assertThat(init.getShort()).isEqualTo((short) HEIGHT);
    assertThat(PixelFormat.read(init)).isEqualTo(PixelFormat.USUAL);
    byte[] name = new byte[init.getInt()];
    init.get(name);
    assertThat(new String(name, StandardCharsets.UTF_8)).isEqualTo("Gallery 07");
  }

  @Test
  @DisplayName("draws the whole screen raw or as ZRLE, and then only what has changed")
  void draws() throws Exception {
    for (int encoding : new int[] {0, 16}) {
      if (encoding == 0) {
        shakeHands();
        said();
      }
      server.receive(encodings(encoding));
      Picture first = noise(encoding);
      server.show(first);
      server.receive(request(false));
      assertThat(look(said())).isEqualTo(6);
      assertThat(seen).isEqualTo(first.colours());

      server.receive(request(true));
      assertThat(said.size()).as("nothing has changed").isZero();
      int[] changed = first.colours().clone();
      changed[70 * WIDTH + 70] ^= 0xff00ff;
      server.show(new Picture(WIDTH, HEIGHT, changed));
      assertThat(look(said())).as("one tile").isEqualTo(1);
      assertThat(seen).isEqualTo(changed);

      server.show(plain(0x808080));
      assertThat(said.size()).as("nobody asked").isZero();
      server.receive(request(true));
      assertThat(look(said())).isEqualTo(6);
      assertThat(seen).containsOnly(0x808080);
    }
  }

  @Test
  @DisplayName("takes messages in any pieces they come in")
  void pieces() throws Exception {
    shakeHands();
    said();
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    all.writeBytes(encodings(16, -223, 5));
    all.writeBytes(new byte[] {5, 1, 0, 20, 0, 30, 5, 0, 0, 20, 0, 30});
    all.writeBytes(new byte[] {4, 1, 0, 0, 0, 0, 0, 'k', 4, 0, 0, 0, 0, 0, 0, 'k'});
    all.writeBytes(new byte[] {6, 0, 0, 0, 0, 0, 0, 3, 'c', 'u', 't'});
    all.writeBytes(request(false));
    for (byte b : all.toByteArray()) {
      server.receive(new byte[] {b});
    }
    assertThat(done).containsExactly("down 20,30", "up 20,30", "press k", "release k");
    assertThat(look(said())).isEqualTo(6);
  }

  @Test
  @DisplayName("puts pixels as the other end wants them")
  void pixels() throws Exception {
    shakeHands();
    said();
    PixelFormat small = new PixelFormat(16, 16, true, 31, 63, 31, 11, 5, 0);
    server.receive(format(small));
    server.show(plain(0xff8000));
    server.receive(request(false));
    ByteBuffer update = said();
    update.position(4 + 12);
    int pixel = update.getShort() & 0xffff;
    assertThat(pixel >> 11).isEqualTo(31);
    assertThat(pixel >> 5 & 63).isEqualTo(32);
    assertThat(pixel & 31).isZero();

    PixelFormat high = new PixelFormat(32, 24, false, 255, 255, 255, 8, 16, 24);
    assertThat(high.compactBytes()).isEqualTo(3);
    ByteBuffer b = ByteBuffer.allocate(3);
    high.putCompact(b, 0x112233);
    assertThat(b.array()).containsExactly(0x11, 0x22, 0x33);
    assertThat(new PixelFormat(32, 32, false, 1023, 1023, 1023, 20, 10, 0).compactBytes())
        .isEqualTo(4);
  }

  @Test
  @DisplayName("hears nobody who does not speak the protocol")
  void refuses() throws Exception {
    assertThatThrownBy(() -> server.receive("GET / HTTP/1.1\r\n".getBytes(StandardCharsets.UTF_8)))
        .isInstanceOf(MalformedRfb.class)
        .hasMessageContaining("3.8");
    RfbServer other = new RfbServer("", plain(0), hands, b -> {});
    other.receive(VERSION);
    assertThatThrownBy(() -> other.receive(new byte[] {2})).isInstanceOf(MalformedRfb.class);
    shakeHandsWith(new byte[] {99});
    shakeHandsWith(new byte[] {6, 0, 0, 0, 0x7f, 0, 0, 0});
    shakeHandsWith(format(new PixelFormat(24, 24, false, 255, 255, 255, 16, 8, 0)));
    shakeHandsWith(format(new PixelFormat(16, 16, false, 255, 255, 255, 16, 8, 0)));
    shakeHandsWith(new byte[] {2, 0, (byte) 0xff, (byte) 0xff});
  }

  private void shakeHandsWith(byte[] wrong) throws MalformedRfb {
    RfbServer one = new RfbServer("", plain(0), hands, b -> {});
    one.receive(VERSION);
    one.receive(new byte[] {1, 1});
    assertThatThrownBy(() -> one.receive(wrong)).isInstanceOf(MalformedRfb.class);
  }

  @Test
  @DisplayName("says nothing once it is closed, whatever comes")
  void closed() throws Exception {
    shakeHands();
    said();
    server.close();
    server.close();
    server.receive(request(false));
    server.show(noise(1));
    assertThat(said.size()).isZero();
  }
}
