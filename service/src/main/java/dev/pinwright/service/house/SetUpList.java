package dev.pinwright.service.house;

import dev.pinwright.core.gateway.SetUpStep;
import dev.pinwright.service.gateway.Gateways;
import dev.pinwright.service.gateway.Gateways.Shown;
import dev.pinwright.service.work.Caller;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

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
    for (Shown g : gateways.all(caller)) {
      platform(g, out);
    }
    out.add(
        connection(
            "mail",
            "Outgoing mail",
            connections.mail(caller),
            "invitations are not mailed and notices are seen in the console only",
            "/house/mail"));
    out.add(
        connection(
            "directory",
            "Staff directory",
            connections.directory(caller),
            "holders cannot sign in with their staff account, and people are kept by hand",
            "/house/directory"));
    return out;
  }

  private static void platform(Shown g, List<SetUpStep> out) {
    String link = "/house/gateways?open=" + g.platform();
    String services = "services " + g.platform();
    boolean set = g.services().isPresent();
    List<String> first = set ? List.of() : List.of(services);
    out.add(
        SetUpStep.of(
            services,
            g.name() + ": the vendor's services",
            set,
            Optional.empty(),
            set
                ? "at " + g.services().orElse("")
                : "say where they are and which makers are trusted",
            List.of(),
            "everything of " + g.name() + " below",
            link));
    Gateways.Push push = g.push();
    boolean held = push.expiresAt().isPresent();
    Optional<String> ends =
        push.expiresAt().map(e -> e.atZone(ZoneOffset.UTC).toLocalDate().toString());
    Optional<String> attention =
        switch (push.state()) {
          case "lapsing" ->
              Optional.of(
                  "lapses in " + push.daysLeft().orElse(0L) + " days, on " + ends.orElse(""));
          case "lapsed" -> Optional.of("has lapsed on " + ends.orElse(""));
          default -> push.fault();
        };
    out.add(
        SetUpStep.of(
            "push " + g.platform(),
            g.name() + ": push credential",
            held,
            attention,
            held
                ? "holds until " + ends.orElse("") + " under " + push.account().orElse("")
                : push.request().isPresent()
                    ? "a signing request waits to be signed in the vendor's portal"
                    : "make a signing request",
            first,
            "devices that keep no connection open are not woken",
            link));
    Gateways.RegistrarSide registrar = g.registrar();
    boolean registers = !registrar.state().equals("missing");
    String registrarKey = "registrar " + g.platform();
    out.add(
        SetUpStep.of(
            registrarKey,
            g.name() + ": device registrar",
            registers,
            registrar.fault(),
            registers
                ? registrar.assigned() + " of " + registrar.registered() + " devices assigned here"
                : "connect it with a token of the vendor's portal",
            first,
            "new devices do not join hands-free",
            link));
    out.add(
        SetUpStep.of(
            "default profile " + g.platform(),
            g.name() + ": how devices of the registrar join",
            registrar.defaultProfileId().isPresent(),
            Optional.empty(),
            registrar.defaultProfileId().isPresent()
                ? "an enrollment profile is chosen"
                : "choose an enrollment profile",
            registers ? List.of() : List.of(registrarKey),
            "devices of the registrar without a profile of their own are refused",
            link));
    Gateways.Store store = g.store();
    boolean sells = !store.state().equals("missing");
    out.add(
        SetUpStep.of(
            "store " + g.platform(),
            g.name() + ": app store",
            sells,
            store.fault(),
            sells ? "connected as " + store.account().orElse("") : "connect it with a token",
            first,
            "apps cannot be bought or handed out",
            link));
  }

  private static SetUpStep connection(
      String key, String title, Connections.Shown<?> shown, String blocks, String link) {
    boolean done = !shown.state().equals("missing");
    return SetUpStep.of(
        key,
        title,
        done,
        shown.fault(),
        done ? "connected" : "not connected",
        List.of(),
        blocks,
        link);
  }
}
