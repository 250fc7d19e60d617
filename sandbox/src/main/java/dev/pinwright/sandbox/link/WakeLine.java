package dev.pinwright.sandbox.link;

import io.netty.channel.Channel;
import io.netty.channel.ChannelFuture;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.ChannelPipeline;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.handler.codec.http.DefaultHttpHeaders;
import io.netty.handler.codec.http.HttpClientCodec;
import io.netty.handler.codec.http.HttpObjectAggregator;
import io.netty.handler.codec.http.HttpResponseStatus;
import io.netty.handler.codec.http.websocketx.BinaryWebSocketFrame;
import io.netty.handler.codec.http.websocketx.PingWebSocketFrame;
import io.netty.handler.codec.http.websocketx.WebSocketClientHandshakeException;
import io.netty.handler.codec.http.websocketx.WebSocketClientProtocolConfig;
import io.netty.handler.codec.http.websocketx.WebSocketClientProtocolHandler;
import io.netty.handler.codec.http.websocketx.WebSocketFrame;
import io.netty.handler.codec.http.websocketx.WebSocketVersion;
import io.netty.handler.ssl.SslContext;
import io.netty.handler.timeout.IdleStateEvent;
import io.netty.handler.timeout.IdleStateHandler;
import java.net.URI;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/**
 * The socket a device is woken by (RFC 6455). Connects again by itself, slower after each failure.
 */
public final class WakeLine implements AutoCloseable {
  private static final int PING_SECONDS = 120;
  private final Network network;
  private final SslContext tls;
  private final URI uri;
  private final Runnable connected;
  private final Consumer<byte[]> notification;
  private volatile boolean closed;
  private volatile @Nullable Channel channel;
  private final Backoff backoff = new Backoff(500, 30_000);

  public WakeLine(
      Network network, SslContext tls, URI uri, Runnable connected, Consumer<byte[]> notification) {
    this.network = network;
    this.tls = tls;
    this.uri = uri;
    this.connected = connected;
    this.notification = notification;
  }

  /** Connects, and stays connected until closed. */
  public void open() {
    if (closed) {
      return;
    }
    ChannelFuture connecting =
        network.bootstrap().handler(new Line()).connect(uri.getHost(), uri.getPort());
    connecting.addListener(
        (ChannelFuture f) -> {
          if (f.isSuccess()) {
            channel = f.channel();
            if (closed) {
              f.channel().close();
            }
            f.channel().closeFuture().addListener(x -> again());
          } else {
            again();
          }
        });
  }

  /** Whether the socket is open now. */
  public boolean isOpen() {
    Channel c = channel;
    return c != null && c.isActive();
  }

  private void again() {
    if (closed) {
      return;
    }
    network.thinking().schedule(this::open, backoff.failed(), TimeUnit.MILLISECONDS);
  }

  @Override
  public void close() {
    closed = true;
    Channel c = channel;
    if (c != null) {
      c.close();
    }
  }

  /** What every socket of a device begins with: TLS, the handshake and the frames. */
  static ChannelPipeline socket(Channel ch, SslContext tls, URI uri) {
    WebSocketClientProtocolConfig config =
        WebSocketClientProtocolConfig.newBuilder()
            .webSocketUri(uri)
            .version(WebSocketVersion.V13)
            .customHeaders(new DefaultHttpHeaders())
            .handleCloseFrames(true)
            .build();
    return ch.pipeline()
        .addLast(tls.newHandler(ch.alloc(), uri.getHost(), uri.getPort()))
        .addLast(new HttpClientCodec())
        .addLast(new HttpObjectAggregator(8192))
        .addLast(new WebSocketClientProtocolHandler(config));
  }

  private final class Line extends ChannelInitializer<Channel> {
    @Override
    protected void initChannel(Channel ch) {
      socket(ch, tls, uri)
          .addLast(new IdleStateHandler(0, 0, PING_SECONDS))
          .addLast(new Receiver());
    }
  }

  private final class Receiver extends SimpleChannelInboundHandler<WebSocketFrame> {
    @Override
    protected void channelRead0(ChannelHandlerContext ctx, WebSocketFrame frame) {
      if (frame instanceof BinaryWebSocketFrame) {
        byte[] bytes = new byte[frame.content().readableBytes()];
        frame.content().readBytes(bytes);
        network.thinking().execute(() -> notification.accept(bytes));
      }
    }

    @Override
    public void userEventTriggered(ChannelHandlerContext ctx, Object event) {
      if (event == WebSocketClientProtocolHandler.ClientHandshakeStateEvent.HANDSHAKE_COMPLETE) {
        backoff.wentWell();
        network.thinking().execute(connected);
      } else if (event instanceof IdleStateEvent) {
        ctx.writeAndFlush(new PingWebSocketFrame());
      }
    }

    @Override
    public void exceptionCaught(ChannelHandlerContext ctx, Throwable cause) {
      if (cause instanceof WebSocketClientHandshakeException refused
          && refused.response() != null
          && refused.response().status().equals(HttpResponseStatus.FORBIDDEN)) {
        // why, a session is told
        network.thinking().execute(connected);
      }
      ctx.close();
    }
  }
}
