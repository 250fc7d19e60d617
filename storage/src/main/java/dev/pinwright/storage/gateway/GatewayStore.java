package dev.pinwright.storage.gateway;

import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.GatewayRow;
import java.util.List;
import java.util.Map;

/** Gateways: one for each platform that was set up. */
public final class GatewayStore {
  private static final int MOST = 100;

  private final Tx tx;

  public GatewayStore(Tx tx) {
    this.tx = tx;
  }

  /** All of them. */
  public List<GatewayRow> all() {
    return tx.list(GatewayRow.class, "from GatewayRow order by platform", Map.of(), MOST);
  }

  /** Platforms whose registrar is connected. */
  public List<String> withRegistrar() {
    return tx.column(
        String.class,
        "select platform from gateway where registrar_token is not null order by platform",
        Map.of());
  }

  /** Platforms whose store is connected. */
  public List<String> withStore() {
    return tx.column(
        String.class,
        "select platform from gateway where store_token is not null order by platform",
        Map.of());
  }
}
