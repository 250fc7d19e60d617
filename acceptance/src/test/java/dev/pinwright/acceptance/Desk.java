package dev.pinwright.acceptance;

import dev.pinwright.client.api.DevicesApi.APIListDevicesRequest;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.AppDetail;
import dev.pinwright.client.model.Change;
import dev.pinwright.client.model.Command;
import dev.pinwright.client.model.CommandState;
import dev.pinwright.client.model.DeviceDetail;
import dev.pinwright.client.model.DeviceSummary;
import dev.pinwright.client.model.Dispatch;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.EnrollmentProfile;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Fleet;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.InvitationDraft;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.NewTerms;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.ProfileDraft;
import dev.pinwright.client.model.ProfileKind;
import dev.pinwright.client.model.Publication;
import dev.pinwright.client.model.Published;
import dev.pinwright.client.model.ReleaseSpec;
import dev.pinwright.client.model.Released;
import dev.pinwright.client.model.TargetKind;
import dev.pinwright.client.model.TargetSpec;
import java.io.IOException;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** What an administrator does, through the API. */
final class Desk {
  static final Map<String, Object> BASELINE =
      Map.of(
          "passcode.required",
          true,
          "passcode.kind",
          "numeric",
          "passcode.min-length",
          6,
          "passcode.no-runs",
          true,
          "restrictions.camera-off",
          true,
          "appearance.lock-screen-text",
          "Property of Vellmar Museums");

  private final Rig rig;
  private int assignments;

  Desk(Rig rig) {
    this.rig = rig;
  }

  void terms() throws ApiException {
    rig.client
        .intake()
        .addTerms(new NewTerms().title("Using a device").text("Bring it back to Norhaven."));
  }

  EnrollmentProfile enrollment(EnrollmentProfileDraft draft) throws ApiException {
    return rig.client.intake().addEnrollmentProfile(draft);
  }

  /** An invitation to join supervised, with as many uses. */
  Invitation kiosks(String name, int uses) throws ApiException {
    EnrollmentProfile p =
        enrollment(
            new EnrollmentProfileDraft()
                .name(name)
                .mode(Mode.SUPERVISED)
                .namePattern("HAR {serial}")
                .tags(List.of("gallery")));
    return invite(p, uses);
  }

  Invitation invite(EnrollmentProfile p, int uses) throws ApiException {
    return rig.client.intake().addInvitation(new InvitationDraft().profileId(p.getId()).uses(uses));
  }

  Profile profile(String name, Map<String, Object> settings, TargetSpec... targets)
      throws ApiException {
    return rig.client
        .rules()
        .addProfile(new ProfileDraft().name(name).settings(settings).targets(List.of(targets)));
  }

  /** Brings a package, which the shelf may have already. */
  AppDetail bring(Path file) throws ApiException, IOException {
    return rig.client.bringPackage(file).getApp();
  }

  /** Releases a version to all. */
  Released release(AppDetail app, long code) throws ApiException {
    AppDetail now = rig.client.apps().getApp(app.getApp().getId());
    return rig.client
        .apps()
        .releaseVersion(
            now.getApp().getId(), onVersion(now.getVersion()), new ReleaseSpec().code(code));
  }

  /** Assigns an app, as a draft. */
  Profile assignment(AppDetail app, String presence, TargetSpec to, Map<String, Object> more)
      throws ApiException {
    return assignment(app, presence, List.of(to), more);
  }

  /** {@link #assignment(AppDetail, String, TargetSpec, Map)}, to several. */
  Profile assignment(AppDetail app, String presence, List<TargetSpec> to, Map<String, Object> more)
      throws ApiException {
    Map<String, Object> settings = new HashMap<>(more);
    settings.put("apps[" + app.getApp().getKey() + "].presence", presence);
    return rig.client
        .rules()
        .addProfile(
            new ProfileDraft()
                .kind(ProfileKind.APP)
                .app(app.getApp().getId())
                .name(app.getApp().getName() + ", " + presence + " " + ++assignments)
                .settings(settings)
                .targets(to));
  }

  static TargetSpec everyone() {
    return new TargetSpec().kind(TargetKind.EVERYONE);
  }

  static TargetSpec device(String id) {
    return new TargetSpec().kind(TargetKind.DEVICE).ref(id);
  }

  static TargetSpec tag(String tag) {
    return new TargetSpec().kind(TargetKind.TAG).ref(tag);
  }

  /** Publishes, repeating whatever number of devices is asked for. */
  Published publish(Profile p) throws ApiException {
    Profile now = rig.client.rules().getProfile(p.getId());
    Long asked = rig.client.rules().rehearseProfile(p.getId()).getConfirmDevices();
    return rig.client
        .rules()
        .publishProfile(
            p.getId(), onVersion(now.getVersion()), new Publication().confirmDevices(asked));
  }

  Profile change(Profile p, Map<String, Object> settings) throws ApiException {
    Profile now = rig.client.rules().getProfile(p.getId());
    return rig.client
        .rules()
        .changeProfile(
            p.getId(), onVersion(now.getVersion()), new ProfileDraft().settings(settings));
  }

  Fleet fleet() {
    try {
      return rig.client.devices().getFleet();
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  Dispatch order(DispatchOrder order, String key) throws ApiException {
    return rig.client.acting().addDispatch(order, key);
  }

  DeviceDetail card(String id) {
    try {
      return rig.client.devices().getDevice(id);
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  String standing(String id) {
    return card(id).getDevice().getStanding().getValue();
  }

  Change change(String id) {
    try {
      return rig.client.rules().getChange(id);
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  Dispatch dispatch(String id) {
    try {
      return rig.client.acting().getDispatch(id);
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  /** The one command of a dispatch. */
  Command only(Dispatch dispatch) {
    try {
      return rig.client
          .acting()
          .getDispatchCommands(dispatch.getId(), null, null, 10)
          .getItems()
          .get(0);
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  /** The one command of a dispatch, once it is done or has failed. */
  Command ended(Dispatch dispatch) {
    return Rig.eventually(
        () -> only(dispatch),
        c -> c.getState() == CommandState.DONE || c.getState() == CommandState.FAILED);
  }

  /** The one device there is. */
  String onlyDevice() {
    return devices("", 1).get(0).getId();
  }

  /** The first devices by name whose name, serial number or model has these words. */
  List<DeviceSummary> devices(String words, int limit) {
    try {
      return rig.client
          .devices()
          .listDevices(APIListDevicesRequest.newBuilder().q(words).limit(limit).build())
          .getItems();
    } catch (ApiException e) {
      throw new IllegalStateException(e);
    }
  }

  /** What says in {@code If-Match} which version a change was made on. */
  static String onVersion(int version) {
    return "\"" + version + "\"";
  }
}
