package dev.pinwright.sandbox.link;

import io.netty.buffer.Unpooled;
import io.netty.channel.Channel;
import io.netty.channel.ChannelFuture;
import io.netty.channel.ChannelHandlerContext;
import io.netty.channel.ChannelInitializer;
import io.netty.channel.SimpleChannelInboundHandler;
import io.netty.handler.codec.http.DefaultFullHttpRequest;
import io.netty.handler.codec.http.FullHttpRequest;
import io.netty.handler.codec.http.FullHttpResponse;
import io.netty.handler.codec.http.HttpClientCodec;
import io.netty.handler.codec.http.HttpHeaderNames;
import io.netty.handler.codec.http.HttpMethod;
import io.netty.handler.codec.http.HttpObjectAggregator;
import io.netty.handler.codec.http.HttpUtil;
import io.netty.handler.codec.http.HttpVersion;
import io.netty.handler.ssl.SslContext;
import io.netty.handler.timeout.ReadTimeoutHandler;
import java.io.IOException;
import java.net.URI;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import org.jspecify.annotations.Nullable;

/**
 * One HTTPS connection that is kept for as long as a conversation lasts. One request at a time;
 * closed by {@link #close} or after thirty seconds of silence.
 */
public final class HttpLine implements AutoCloseable {
  private static final int MAX_BODY = 1024 * 1024;
  private static final int SILENCE_SECONDS = 30;
  private final Network network;
  private final SslContext tls;
  private final URI base;
  private @Nullable Channel channel;
  private volatile @Nullable CompletableFuture<Reply> awaited;

  /** An answer. */
  public record Reply(int status, Map<String, String> headers, byte[] body) {}

  public HttpLine(Network network, SslContext tls, URI base) {
    this.network = network;
    this.tls = tls;
    this.base = base;
  }

  /** Sends a request; the future fails when the server cannot be reached or hangs up. */
  public synchronized CompletableFuture<Reply> send(
      String method, String path, Map<String, String> headers, byte[] body) {
    CompletableFuture<Reply> reply = new CompletableFuture<>();
    awaited = reply;
    FullHttpRequest request =
        new DefaultFullHttpRequest(
            HttpVersion.HTTP_1_1, HttpMethod.valueOf(method), path, Unpooled.wrappedBuffer(body));
    request.headers().set(HttpHeaderNames.HOST, base.getAuthority());
    headers.forEach((k, v) -> request.headers().set(k, v));
    HttpUtil.setContentLength(request, body.length);
    Channel open = channel;
    if (open != null && open.isActive()) {
      write(open, request);
    } else {
      ChannelFuture connecting =
          network
              .bootstrap()
              .handler(new Line())
              .connect(base.getHost(), base.getPort() < 0 ? 443 : base.getPort());
      connecting.addListener(
          (ChannelFuture f) -> {
            if (f.isSuccess()) {
              channel = f.channel();
              write(f.channel(), request);
            } else {
              request.release();
              reply.completeExceptionally(f.cause());
            }
          });
    }
    return reply;
  }

  private void write(Channel to, FullHttpRequest request) {
    to.writeAndFlush(request)
        .addListener(
            f -> {
              if (!f.isSuccess()) {
                fail(f.cause());
              }
            });
  }

  private void fail(Throwable why) {
    CompletableFuture<Reply> r = awaited;
    if (r != null) {
      r.completeExceptionally(why);
    }
  }

  @Override
  public synchronized void close() {
    if (channel != null) {
      channel.close();
      channel = null;
    }
  }

  private final class Line extends ChannelInitializer<Channel> {
    @Override
    protected void initChannel(Channel ch) {
      ch.pipeline()
          .addLast(tls.newHandler(ch.alloc(), base.getHost(), base.getPort()))
          .addLast(new ReadTimeoutHandler(SILENCE_SECONDS))
          .addLast(new HttpClientCodec())
          .addLast(new HttpObjectAggregator(MAX_BODY))
          .addLast(new Receiver());
    }
  }

  private final class Receiver extends SimpleChannelInboundHandler<FullHttpResponse> {
    @Override
    protected void channelRead0(ChannelHandlerContext ctx, FullHttpResponse response) {
      byte[] body = new byte[response.content().readableBytes()];
      response.content().readBytes(body);
      Map<String, String> headers = new java.util.TreeMap<>(String.CASE_INSENSITIVE_ORDER);
      response.headers().forEach(h -> headers.put(h.getKey(), h.getValue()));
      CompletableFuture<Reply> r = awaited;
      if (r != null) {
        r.complete(new Reply(response.status().code(), headers, body));
      }
    }

    @Override
    public void channelInactive(ChannelHandlerContext ctx) {
      fail(new IOException("the server hung up"));
    }

    @Override
    public void exceptionCaught(ChannelHandlerContext ctx, Throwable cause) {
      fail(cause.getCause() == null ? cause : cause.getCause());
      ctx.close();
    }
  }
}
