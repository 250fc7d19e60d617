package dev.pinwright.sandbox.link;

import io.netty.bootstrap.Bootstrap;
import io.netty.channel.ChannelOption;
import io.netty.channel.EventLoopGroup;
import io.netty.channel.MultiThreadIoEventLoopGroup;
import io.netty.channel.nio.NioIoHandler;
import io.netty.channel.socket.nio.NioSocketChannel;
import io.netty.handler.ssl.SslContext;
import io.netty.handler.ssl.SslContextBuilder;
import io.netty.handler.ssl.SslProvider;
import java.security.PrivateKey;
import java.security.cert.X509Certificate;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.SSLException;
import org.jspecify.annotations.Nullable;

/** The threads all simulated devices share: two for sockets, two for thinking. */
public final class Network implements AutoCloseable {
  private final Map<String, SslContext> anonymous = new ConcurrentHashMap<>();
  static final int CONNECT_MILLIS = 10_000;
  private final EventLoopGroup sockets =
      new MultiThreadIoEventLoopGroup(2, NioIoHandler.newFactory());
  private final ScheduledExecutorService thinking =
      Executors.newScheduledThreadPool(
          2,
          r -> {
            Thread t = new Thread(r, "devices");
            t.setDaemon(true);
            return t;
          });

  /** Where devices do what takes time or comes later. */
  public ScheduledExecutorService thinking() {
    return thinking;
  }

  Bootstrap bootstrap() {
    return new Bootstrap()
        .group(sockets)
        .channel(NioSocketChannel.class)
        .option(ChannelOption.CONNECT_TIMEOUT_MILLIS, CONNECT_MILLIS)
        .option(ChannelOption.TCP_NODELAY, true);
  }

  /** TLS towards a server before there is a certificate; shared, so that sessions are resumed. */
  public SslContext anonymous(String fingerprint) {
    return anonymous.computeIfAbsent(fingerprint, f -> identity(f, null, null));
  }

  /**
   * A TLS identity.
   *
   * @param fingerprint of the root the server's chain has to end in
   * @param key and certificate to present, or null before there is one
   */
  public SslContext identity(
      String fingerprint, @Nullable PrivateKey key, @Nullable X509Certificate certificate) {
    SslContextBuilder b =
        SslContextBuilder.forClient()
            .sslProvider(SslProvider.JDK)
            .endpointIdentificationAlgorithm("HTTPS")
            .trustManager(new PinnedTrust(fingerprint))
            .sessionCacheSize(16);
    if (key != null && certificate != null) {
      b.keyManager(new OneKey(key, certificate));
    }
    try {
      return b.build();
    } catch (SSLException e) {
      throw new IllegalStateException(e);
    }
  }

  @Override
  public void close() {
    thinking.shutdownNow();
    sockets.shutdownGracefully(0, 2, TimeUnit.SECONDS);
  }
}
