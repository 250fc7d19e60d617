package dev.pinwright.service.house;

import dev.pinwright.core.gateway.Linked;
import dev.pinwright.core.gateway.SetUpStep;
import dev.pinwright.service.gateway.Gateways;
import dev.pinwright.service.work.Caller;
import java.util.ArrayList;
import java.util.List;

/** What of the outside connections is done, what is missing, and what that blocks. */
public final class SetUpList {
  private final Gateways gateways;
  private final Connections connections;

  public SetUpList(Gateways gateways, Connections connections) {
    this.gateways = gateways;
    this.connections = connections;
  }

  /** Every step, in the order they are best taken. */
  public List<SetUpStep> steps(Caller caller) {
    List<SetUpStep> out = new ArrayList<>();
    gateways.all(caller).forEach(g -> out.addAll(g.steps()));
    out.add(
        connection(
            "mail",
            "Outgoing mail",
            connections.mail(caller),
            "invitations are not mailed and notices are seen in the console only"));
    out.add(
        connection(
            "directory",
            "Staff directory",
            connections.directory(caller),
            "holders cannot sign in with their staff account, and people are kept by hand"));
    return out;
  }

  private static SetUpStep connection(
      String key, String title, Connections.Shown<?> shown, String blocks) {
    boolean done = shown.state() != Linked.MISSING;
    return SetUpStep.of(
        key,
        title,
        done,
        shown.fault(),
        done ? "connected" : "not connected",
        List.of(),
        blocks,
        "/house/" + key);
  }
}
