package dev.pinwright.acceptance;

import java.io.ByteArrayOutputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.WebSocket;
import java.net.http.WebSocketHandshakeException;
import java.nio.ByteBuffer;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.TimeUnit;

/** Somebody at a screen: a WebSocket, and as much of RFC 6143 as it takes to see and to tap. */
final class Watcher implements WebSocket.Listener, AutoCloseable {
  private final ByteArrayOutputStream heard = new ByteArrayOutputStream();
  private final CompletableFuture<Integer> closed = new CompletableFuture<>();
  private final WebSocket socket;

  private Watcher(HttpClient http, String address, String... headers) {
    WebSocket.Builder builder = http.newWebSocketBuilder();
    for (int i = 0; i < headers.length; i += 2) {
      builder.header(headers[i], headers[i + 1]);
    }
    socket = builder.buildAsync(URI.create(address.replaceFirst("^http", "ws")), this).join();
  }

  static Watcher open(HttpClient http, String address, String... headers) {
    return new Watcher(http, address, headers);
  }

  /** The status a handshake is refused with. */
  static int refused(HttpClient http, String address, String... headers) {
    try (Watcher w = open(http, address, headers)) {
      return 101;
    } catch (CompletionException e) {
      return ((WebSocketHandshakeException) e.getCause()).getResponse().statusCode();
    }
  }

  @Override
  public CompletionStage<?> onBinary(WebSocket ws, ByteBuffer data, boolean last) {
    synchronized (heard) {
      byte[] bytes = new byte[data.remaining()];
      data.get(bytes);
      heard.writeBytes(bytes);
    }
    ws.request(1);
    return CompletableFuture.completedFuture(null);
  }

  @Override
  public CompletionStage<?> onClose(WebSocket ws, int code, String reason) {
    closed.complete(code);
    return CompletableFuture.completedFuture(null);
  }

  @Override
  public void onError(WebSocket ws, Throwable error) {
    closed.complete(-1);
  }

  /** How it was closed. */
  int closed() {
    try {
      return closed.get(30, TimeUnit.SECONDS);
    } catch (Exception e) {
      throw new IllegalStateException("it is still open", e);
    }
  }

  boolean isOpen() {
    return !closed.isDone();
  }

  /** Waits for so many bytes and takes them. */
  ByteBuffer hear(int bytes) {
    Rig.eventually(() -> count() >= bytes, Boolean.TRUE::equals);
    synchronized (heard) {
      byte[] all = heard.toByteArray();
      heard.reset();
      heard.write(all, bytes, all.length - bytes);
      return ByteBuffer.wrap(all, 0, bytes);
    }
  }

  int count() {
    synchronized (heard) {
      return heard.size();
    }
  }

  void say(byte... bytes) {
    socket.sendBinary(ByteBuffer.wrap(bytes), true).join();
  }

  /** Shakes hands; width, height and name of the screen. */
  String begin() {
    say(hear(12).duplicate().slice().array());
    hear(2);
    say((byte) 1);
    hear(4);
    say((byte) 1);
    ByteBuffer init = hear(24);
    int w = init.getShort();
    int h = init.getShort();
    int name = init.getInt(20);
    byte[] title = new byte[name];
    hear(name).get(title);
    return w + "x" + h + " " + new String(title);
  }

  /** All of the screen as it is now, its colours as three bytes. */
  int[] look(int w, int h) {
    say(new byte[] {3, 0, 0, 0, 0, 0, (byte) (w >> 8), (byte) w, (byte) (h >> 8), (byte) h});
    int[] seen = new int[w * h];
    ByteBuffer head = hear(4);
    int rectangles = head.getShort(2);
    for (int i = 0; i < rectangles; i++) {
      ByteBuffer r = hear(12);
      int x = r.getShort();
      int y = r.getShort();
      int rw = r.getShort();
      int rh = r.getShort();
      ByteBuffer pixels = hear(rw * rh * 4);
      for (int k = 0; k < rw * rh; k++) {
        int p = Integer.reverseBytes(pixels.getInt());
        seen[(y + k / rw) * w + x + k % rw] = p & 0xffffff;
      }
    }
    return seen;
  }

  void tap(int x, int y) {
    byte[] where = {(byte) (x >> 8), (byte) x, (byte) (y >> 8), (byte) y};
    say((byte) 5, (byte) 1, where[0], where[1], where[2], where[3]);
    say((byte) 5, (byte) 0, where[0], where[1], where[2], where[3]);
  }

  void type(String text) {
    for (char c : text.toCharArray()) {
      say((byte) 4, (byte) 1, (byte) 0, (byte) 0, (byte) 0, (byte) 0, (byte) 0, (byte) c);
    }
  }

  @Override
  public void close() {
    socket.sendClose(WebSocket.NORMAL_CLOSURE, "");
  }
}
