package dev.pinwright.sandbox.link;

import io.netty.buffer.Unpooled;
import io.netty.channel.Channel;
import io.netty.channel.ChannelFuture;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.handler.codec.http.websocketx.BinaryWebSocketFrame;
import io.netty.handler.codec.http.websocketx.CloseWebSocketFrame;
import io.netty.handler.codec.http.websocketx.WebSocketClientProtocolHandler;
import io.netty.handler.codec.http.websocketx.WebSocketFrame;
import io.netty.handler.ssl.SslContext;
import java.net.URI;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** A socket bytes go through both ways (RFC 6455, binary). Opened once; closed by either side. */
public final class ScreenLine implements AutoCloseable {
  /** Bytes of the largest frame it sends. */
  private static final int PART = 64 * 1024;

  private final Network network;
  private final SslContext tls;
  private final URI uri;
  private final Runnable opened;
  private final Consumer<byte[]> heard;
  private final Runnable over;
  private volatile @Nullable Channel channel;
  private volatile boolean closed;

  /**
   * One that is yet to be opened.
   *
   * @param opened told once bytes can be sent
   * @param heard told what comes, in order, on a thread that must not be held up
   * @param over told once, when it could not be opened or is closed
   */
  public ScreenLine(
      Network network,
      SslContext tls,
      URI uri,
      Runnable opened,
      Consumer<byte[]> heard,
      Runnable over) {
    this.network = network;
    this.tls = tls;
    this.uri = uri;
    this.opened = opened;
    this.heard = heard;
    this.over = over;
  }

  /** Opens it. */
  public void open() {
    network
        .bootstrap()
        .handler(
            new ChannelInitializer<>() {
              @Override
              protected void initChannel(Channel ch) {
                channel = ch;
                WakeLine.socket(ch, tls, uri).addLast(new Receiver());
              }
            })
        .connect(uri.getHost(), uri.getPort())
        .addListener(
            (ChannelFuture f) -> {
              if (f.isSuccess()) {
                f.channel().closeFuture().addListener(x -> over.run());
                if (closed) {
                  f.channel().close();
                }
              } else {
                over.run();
              }
            });
  }

  /** Sends bytes, in order; lost when it is closed. */
  public void send(byte[] bytes) {
    Channel c = channel;
    for (int at = 0; c != null && at < bytes.length; at += PART) {
      int n = Math.min(PART, bytes.length - at);
      c.writeAndFlush(new BinaryWebSocketFrame(Unpooled.copiedBuffer(bytes, at, n)));
    }
  }

  @Override
  public void close() {
    closed = true;
    Channel c = channel;
    if (c != null) {
      c.writeAndFlush(new CloseWebSocketFrame()).addListener(x -> c.close());
    }
  }

  private final class Receiver extends SimpleChannelInboundHandler<WebSocketFrame> {
    @Override
    protected void channelRead0(ChannelHandlerContext ctx, WebSocketFrame frame) {
      byte[] bytes = new byte[frame.content().readableBytes()];
      frame.content().readBytes(bytes);
      heard.accept(bytes);
    }

    @Override
    public void userEventTriggered(ChannelHandlerContext ctx, Object event) {
      if (event == WebSocketClientProtocolHandler.ClientHandshakeStateEvent.HANDSHAKE_COMPLETE) {
        opened.run();
      }
    }

    @Override
    public void exceptionCaught(ChannelHandlerContext ctx, Throwable cause) {
      ctx.close();
    }
  }
}
