package dev.pinwright.server;

import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.net.URI;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;

/** Stands before the database, and goes away and comes back as a server does that is restarted. */
final class Forwarder implements AutoCloseable {
  private final URI to;
  private final Set<Socket> open = ConcurrentHashMap.newKeySet();
  private final int port;
  private ServerSocket listener;

  /** Before the database of a JDBC URL. */
  Forwarder(String url) throws IOException {
    to = URI.create(url.substring("jdbc:".length()));
    listener = new ServerSocket(0, 50, InetAddress.getLoopbackAddress());
    port = listener.getLocalPort();
    accept(listener);
  }

  /** The URL by which the database is reached through this. */
  String url() {
    return "jdbc:postgresql://127.0.0.1:" + port + to.getPath();
  }

  private void accept(ServerSocket on) {
    thread(
        () -> {
          while (!on.isClosed()) {
            Socket in = on.accept();
            Socket out = new Socket(to.getHost(), to.getPort());
            open.add(in);
            open.add(out);
            thread(() -> copy(in, out));
            thread(() -> copy(out, in));
          }
        });
  }

  private static void copy(Socket from, Socket into) throws IOException {
    try (InputStream in = from.getInputStream()) {
      in.transferTo(into.getOutputStream());
    } finally {
      into.close();
    }
  }

  private interface Work {
    void run() throws IOException;
  }

  private static void thread(Work work) {
    Thread t =
        new Thread(
            () -> {
              try {
                work.run();
              } catch (IOException closed) {
                // that is what this is for
              }
            });
    t.setDaemon(true);
    t.start();
  }

  /** Goes away. */
  void stop() throws IOException {
    listener.close();
    for (Socket s : open) {
      s.close();
    }
    open.clear();
  }

  /** Comes back at the same port. */
  void start() throws IOException {
    listener = new ServerSocket(port, 50, InetAddress.getLoopbackAddress());
    accept(listener);
  }

  @Override
  public void close() throws IOException {
    stop();
  }
}
