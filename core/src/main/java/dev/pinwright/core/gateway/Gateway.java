package dev.pinwright.core.gateway;

import dev.pinwright.core.Versioned;
import dev.pinwright.core.Words;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;

/**
 * What connects a platform's outside services. {@code services} and {@code makers} are empty before
 * it is set up.
 *
 * @param platform its key
 * @param name what it is called
 * @param services where they are
 * @param makers whose certificates count
 * @param version how often people changed it
 */
public record Gateway(
    String platform,
    String name,
    Optional<String> services,
    List<String> makers,
    Push push,
    Registrar registrar,
    Store store,
    int version)
    implements Versioned {

  public Gateway {
    makers = List.copyOf(makers);
  }

  /** One that nobody has set up. */
  public static Gateway missing(String platform, String name) {
    Optional<String> none = Optional.empty();
    return new Gateway(
        platform,
        name,
        none,
        List.of(),
        Push.of(Optional.empty(), none, 0, none, Instant.EPOCH),
        new Registrar(Linked.MISSING, none, Optional.empty(), none, 0, 0, none),
        new Store(Linked.MISSING, none, Optional.empty(), none),
        0);
  }

  /**
   * The push side.
   *
   * @param request signing request to be signed in the vendor's portal, PEM
   * @param devices that are woken through it
   */
  public record Push(
      State state,
      Optional<String> account,
      Optional<String> topic,
      Optional<Instant> expiresAt,
      Optional<Long> daysLeft,
      Optional<String> request,
      long devices,
      Optional<String> fault) {
    /** Days before its end from which a credential is said to lapse. */
    private static final int SOON_DAYS = 60;

    /** How far it is. */
    public enum State {
      MISSING,
      /** A request waits to be signed. */
      REQUESTED,
      CONNECTED,
      LAPSING,
      LAPSED
    }

    /** As it is known. */
    public static Push of(
        Optional<PushCredential> held,
        Optional<String> request,
        long devices,
        Optional<String> fault,
        Instant now) {
      Optional<Long> left = held.map(c -> c.lapse().daysLeft(now));
      State state =
          left.map(d -> d < 0 ? State.LAPSED : d <= SOON_DAYS ? State.LAPSING : State.CONNECTED)
              .orElse(request.isEmpty() ? State.MISSING : State.REQUESTED);
      return new Push(
          state,
          held.map(PushCredential::account),
          held.map(PushCredential::topic),
          held.map(PushCredential::expiresAt),
          left,
          request,
          devices,
          fault);
    }

    private SetUpStep step(String platform, String name, List<String> first, String link) {
      String ends =
          expiresAt.map(e -> e.atZone(ZoneOffset.UTC).toLocalDate().toString()).orElse("");
      Optional<String> attention =
          switch (state) {
            case LAPSING ->
                Optional.of(
                    "lapses in " + Words.counted(daysLeft.orElse(0L), "day") + ", on " + ends);
            case LAPSED -> Optional.of("has lapsed on " + ends);
            default -> fault;
          };
      return SetUpStep.of(
          "push " + platform,
          name + ": push credential",
          expiresAt.isPresent(),
          attention,
          expiresAt.isPresent()
              ? "holds until " + ends + " under " + account.orElse("")
              : request.isPresent()
                  ? "a signing request waits to be signed in the vendor's portal"
                  : "make a signing request",
          first,
          "devices that keep no connection open are not woken",
          link);
    }
  }

  /**
   * The registrar side.
   *
   * @param registered how many devices it lists
   * @param assigned how many of them are assigned here
   */
  public record Registrar(
      Linked state,
      Optional<String> account,
      Optional<Instant> syncedAt,
      Optional<String> defaultProfileId,
      long registered,
      long assigned,
      Optional<String> fault) {}

  /** The store side. */
  public record Store(
      Linked state,
      Optional<String> account,
      Optional<Instant> checkedAt,
      Optional<String> fault) {}

  /** Every step of connecting it, in the order they are best taken. */
  public List<SetUpStep> steps() {
    String link = "/house/gateways?open=" + platform;
    SetUpStep address =
        SetUpStep.of(
            "services " + platform,
            name + ": the vendor's services",
            services.isPresent(),
            Optional.empty(),
            services
                .map(at -> "at " + at)
                .orElse("say where they are and which makers are trusted"),
            List.of(),
            "everything of " + name + " below",
            link);
    List<String> first = services.isPresent() ? List.of() : List.of(address.key());
    boolean registers = registrar.state() != Linked.MISSING;
    SetUpStep registry =
        SetUpStep.of(
            "registrar " + platform,
            name + ": device registrar",
            registers,
            registrar.fault(),
            registers
                ? registrar.assigned() + " of " + registrar.registered() + " devices assigned here"
                : "connect it with a token of the vendor's portal",
            first,
            "new devices do not join hands-free",
            link);
    boolean chosen = registrar.defaultProfileId().isPresent();
    SetUpStep usual =
        SetUpStep.of(
            "default profile " + platform,
            name + ": how devices of the registrar join",
            chosen,
            Optional.empty(),
            chosen ? "an enrollment profile is chosen" : "choose an enrollment profile",
            registers ? List.of() : List.of(registry.key()),
            "devices of the registrar without a profile of their own are refused",
            link);
    boolean sells = store.state() != Linked.MISSING;
    SetUpStep shop =
        SetUpStep.of(
            "store " + platform,
            name + ": app store",
            sells,
            store.fault(),
            sells ? "connected as " + store.account().orElse("") : "connect it with a token",
            first,
            "apps cannot be bought or handed out",
            link);
    return List.of(address, push.step(platform, name, first, link), registry, usual, shop);
  }
}
