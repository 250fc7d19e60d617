package dev.pinwright.cli;

import static dev.pinwright.cli.Context.call;
import static dev.pinwright.cli.Context.time;

import dev.pinwright.client.model.Count;
import dev.pinwright.client.model.DefaultProfile;
import dev.pinwright.client.model.Gateway;
import dev.pinwright.client.model.GatewayServices;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.RegisteredDevicePage;
import dev.pinwright.client.model.RegistrarAssignment;
import dev.pinwright.client.model.RegistrarReading;
import dev.pinwright.client.model.SignedCredential;
import dev.pinwright.client.model.VendorToken;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** {@code gateway}. */
@Command(
    name = "gateway",
    mixinStandardHelpOptions = true,
    synopsisSubcommandLabel = "VERB",
    description =
        "Connections to the platforms' push, registrar and store: list, set, push-request,"
            + " push-credential, registrar, read, registered, assign, default-profile, store.")
final class GatewayCommands {
  private final Context context;

  GatewayCommands(Context context) {
    this.context = context;
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists the gateways of all platforms.")
  int list() {
    List<Gateway> all = call(() -> context.client().house().listGateways());
    return context.list(
        all,
        all,
        g ->
            new Object[] {
              g.getPlatform(),
              g.getServices(),
              g.getPush().getState(),
              time(g.getPush().getExpiresAt()),
              g.getRegistrar().getState(),
              g.getRegistrar().getAssigned() + " of " + g.getRegistrar().getRegistered(),
              g.getStore().getState()
            },
        "PLATFORM",
        "SERVICES",
        "PUSH",
        "UNTIL",
        "REGISTRAR",
        "ASSIGNED",
        "STORE");
  }

  private String version(PlatformKey platform) {
    return Context.onVersion(
        call(() -> context.client().house().getGateway(platform)).getVersion());
  }

  private int shown(Gateway g) {
    return context.print(
        g,
        () ->
            context.line(
                "%s: push %s, registrar %s, store %s.",
                g.getName(),
                g.getPush().getState(),
                g.getRegistrar().getState(),
                g.getStore().getState()));
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Says where a platform's services are and which makers are trusted.",
      footer = {
        "",
        "Example:",
        "  pinwright gateway set moor https://127.0.0.1:7493/moor maker.pem"
      })
  int set(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform,
      @Parameters(paramLabel = "ADDRESS") String services,
      @Parameters(paramLabel = "PEM-FILE") Path roots)
      throws IOException {
    GatewayServices body =
        new GatewayServices().services(services).roots(FileText.read(roots, "certificates"));
    return shown(
        call(() -> context.client().house().setUpGateway(platform, version(platform), body)));
  }

  @Command(
      name = "push-request",
      mixinStandardHelpOptions = true,
      description = "Makes a signing request and writes it to a file.")
  int pushRequest(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform,
      @Parameters(paramLabel = "FILE") Path file)
      throws IOException {
    Gateway g = call(() -> context.client().house().requestPushCredential(platform));
    Files.writeString(file, String.valueOf(g.getPush().getRequest()));
    return context.print(
        g, () -> context.line("Written to %s. Have it signed in the vendor's portal.", file));
  }

  @Command(
      name = "push-credential",
      mixinStandardHelpOptions = true,
      description = "Takes what the vendor's portal signed.")
  int pushCredential(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform,
      @Parameters(paramLabel = "FILE") Path file)
      throws IOException {
    SignedCredential body =
        new SignedCredential().certificate(FileText.read(file, "the credential"));
    return shown(
        call(() -> context.client().house().takePushCredential(platform, version(platform), body)));
  }

  @Command(mixinStandardHelpOptions = true, description = "Connects the registrar by its token.")
  int registrar(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform,
      @Parameters(paramLabel = "TOKEN") String token) {
    return shown(
        call(
            () ->
                context
                    .client()
                    .house()
                    .connectRegistrar(
                        platform, version(platform), new VendorToken().token(token))));
  }

  @Command(mixinStandardHelpOptions = true, description = "Connects the store by its token.")
  int store(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform,
      @Parameters(paramLabel = "TOKEN") String token) {
    return shown(
        call(
            () ->
                context
                    .client()
                    .house()
                    .connectStore(platform, version(platform), new VendorToken().token(token))));
  }

  @Command(mixinStandardHelpOptions = true, description = "Reads from the registrar now.")
  int read(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform) {
    RegistrarReading r = call(() -> context.client().house().readRegistrar(platform));
    return context.print(
        r,
        () ->
            context.line(
                "%d registered, %d assigned here; %d put on the roster, %d taken off it.",
                r.getRegistered(), r.getAssigned(), r.getListed(), r.getWithdrawn()));
  }

  @Command(mixinStandardHelpOptions = true, description = "Lists what resellers registered.")
  int registered(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform,
      @Option(names = "--search") @Nullable String words,
      @Option(names = "--assigned", description = "true or false.") @Nullable String assigned,
      @Mixin Paging paging) {
    RegisteredDevicePage page =
        call(
            () ->
                context
                    .client()
                    .house()
                    .listRegisteredDevices(platform, words, assigned, paging.after, paging.limit));
    return context.list(
        page,
        page.getItems(),
        d ->
            new Object[] {
              d.getSerial(),
              d.getModel(),
              d.getOrder(),
              d.getAssigned() ? "assigned" : "",
              d.getProfile(),
              d.getDeviceId() == null ? "" : "arrived"
            },
        "SERIAL",
        "MODEL",
        "ORDER",
        "HERE",
        "PROFILE",
        "ARRIVED");
  }

  @Command(
      mixinStandardHelpOptions = true,
      description = "Assigns registered devices to this server, or takes them from it.")
  int assign(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform,
      @Parameters(paramLabel = "SERIAL", arity = "1..*") List<String> serials,
      @Option(names = "--take-back") boolean takeBack,
      @Option(names = "--profile", description = "What they join by.") @Nullable String profile) {
    RegistrarAssignment body =
        new RegistrarAssignment()
            .serials(serials)
            .assign(!takeBack)
            .profileId(profile == null ? null : context.enrollmentProfile(profile).getId());
    Count n = call(() -> context.client().house().assignRegistered(platform, body));
    return context.print(
        n, () -> context.line("%d %s.", n.getCount(), takeBack ? "taken back" : "assigned"));
  }

  @Command(
      name = "default-profile",
      mixinStandardHelpOptions = true,
      description = "Chooses how devices of the registrar join that have no profile of their own.")
  int defaultProfile(
      @Parameters(paramLabel = "PLATFORM", description = "${COMPLETION-CANDIDATES}.")
          PlatformKey platform,
      @Parameters(paramLabel = "ENROLLMENT-PROFILE", arity = "0..1") @Nullable String profile) {
    DefaultProfile body =
        new DefaultProfile()
            .profileId(profile == null ? null : context.enrollmentProfile(profile).getId());
    return shown(
        call(
            () ->
                context
                    .client()
                    .house()
                    .chooseRegistrarProfile(platform, version(platform), body)));
  }
}
