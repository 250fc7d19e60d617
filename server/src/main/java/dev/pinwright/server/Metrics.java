package dev.pinwright.server;

import dev.pinwright.service.Pinwright;
import io.javalin.http.Context;
import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.Timer;
import io.micrometer.core.instrument.binder.jvm.JvmGcMetrics;
import io.micrometer.core.instrument.binder.jvm.JvmMemoryMetrics;
import io.micrometer.core.instrument.binder.jvm.JvmThreadMetrics;
import io.micrometer.core.instrument.binder.system.ProcessorMetrics;
import io.micrometer.core.instrument.config.MeterFilter;
import io.micrometer.prometheusmetrics.PrometheusConfig;
import io.micrometer.prometheusmetrics.PrometheusMeterRegistry;
import java.time.Duration;

/** Counters for {@code /metrics}, by route and never by full path, which may hold a code. */
final class Metrics {
  private final PrometheusMeterRegistry registry =
      new PrometheusMeterRegistry(PrometheusConfig.DEFAULT);

  Metrics(Pinwright pinwright) {
    // names that readers of metrics take for something else
    registry
        .config()
        .meterFilter(MeterFilter.denyNameStartsWith("process.cpu.time"))
        .meterFilter(MeterFilter.denyNameStartsWith("system.cpu.count"));
    new JvmMemoryMetrics().bindTo(registry);
    new JvmThreadMetrics().bindTo(registry);
    new ProcessorMetrics().bindTo(registry);
    new JvmGcMetrics().bindTo(registry);
    Gauge.builder("pinwright_device_sockets", () -> pinwright.wakes().open())
        .description("Devices connected to this node")
        .register(registry);
  }

  void request(Context ctx, String listener, float millis) {
    String route =
        ctx.endpoints().lastHttpEndpoint() == null
            ? "none"
            : ctx.endpoints().lastHttpEndpoint().path;
    request(listener, route, ctx.statusCode(), (long) (millis * 1_000_000));
  }

  void request(String listener, String route, int status, long nanos) {
    Timer.builder("pinwright_requests")
        .description("How long requests took")
        .tag("listener", listener)
        .tag("route", route)
        .tag("status", String.valueOf(status))
        .publishPercentileHistogram(false)
        .register(registry)
        .record(Duration.ofNanos(nanos));
  }

  String scrape() {
    return registry.scrape();
  }
}
