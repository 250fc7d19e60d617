package dev.pinwright.protocol.rfb;

import java.nio.ByteBuffer;

/**
 * How pixels travel (RFC 6143, 7.4), of true colours.
 *
 * @param bits 8, 16 or 32 for a pixel
 * @param depth how many of them matter
 * @param bigEndian whether the most significant byte comes first
 */
record PixelFormat(
    int bits,
    int depth,
    boolean bigEndian,
    int redMost,
    int greenMost,
    int blueMost,
    int redShift,
    int greenShift,
    int blueShift) {
  static final int BYTES = 16;

  /** What is offered: 24 bits of colour in 32, blue first. */
  static final PixelFormat USUAL = new PixelFormat(32, 24, false, 255, 255, 255, 16, 8, 0);

  private static final int COMPACT = 3;

  /** Reads the sixteen bytes. */
  static PixelFormat read(ByteBuffer in) throws MalformedRfb {
    int bits = in.get() & 0xff;
    int depth = in.get() & 0xff;
    boolean bigEndian = in.get() != 0;
    boolean trueColour = in.get() != 0;
    PixelFormat format =
        new PixelFormat(
            bits,
            depth,
            bigEndian,
            in.getShort() & 0xffff,
            in.getShort() & 0xffff,
            in.getShort() & 0xffff,
            in.get() & 0xff,
            in.get() & 0xff,
            in.get() & 0xff);
    in.position(in.position() + 3);
    if (!trueColour || bits != 8 && bits != 16 && bits != 32 || format.furthestShift() >= bits) {
      throw new MalformedRfb("pixels have to be of true colours, in 8, 16 or 32 bits");
    }
    return format;
  }

  private int furthestShift() {
    return Math.max(redShift, Math.max(greenShift, blueShift));
  }

  void write(ByteBuffer out) {
    out.put((byte) bits).put((byte) depth).put((byte) (bigEndian ? 1 : 0)).put((byte) 1);
    out.putShort((short) redMost).putShort((short) greenMost).putShort((short) blueMost);
    out.put((byte) redShift).put((byte) greenShift).put((byte) blueShift);
    out.put(new byte[3]);
  }

  /** A pixel of this format, from one of 8 bits a colour. */
  int of(int rgb) {
    return scaled(rgb >> 16, redMost) << redShift
        | scaled(rgb >> 8, greenMost) << greenShift
        | scaled(rgb, blueMost) << blueShift;
  }

  private static int scaled(int colour, int most) {
    return ((colour & 0xff) * most + 127) / 255;
  }

  /** Puts a pixel as it is in the raw encoding. */
  void put(ByteBuffer out, int rgb) {
    put(out, of(rgb), bits / 8);
  }

  /** Bytes of a pixel in ZRLE: three where the fourth says nothing (RFC 6143, 7.7.5). */
  int compactBytes() {
    return bits == 32 && depth <= 24 && (inLowBytes() || inHighBytes()) ? COMPACT : bits / 8;
  }

  /** Puts a pixel as it is in ZRLE. */
  void putCompact(ByteBuffer out, int rgb) {
    int bytes = compactBytes();
    int pixel = of(rgb);
    put(out, bytes == COMPACT && !inLowBytes() ? pixel >>> 8 : pixel, bytes);
  }

  private boolean inLowBytes() {
    return (of(0xffffff) & 0xff000000) == 0;
  }

  private boolean inHighBytes() {
    return (of(0xffffff) & 0xff) == 0;
  }

  private void put(ByteBuffer out, int pixel, int bytes) {
    for (int i = 0; i < bytes; i++) {
      int shift = 8 * (bigEndian ? bytes - 1 - i : i);
      out.put((byte) (pixel >>> shift));
    }
  }
}
