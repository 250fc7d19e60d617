package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.core.query.RuleLanguage;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.acting.CommandHistory;
import dev.pinwright.service.device.DeviceEdits;
import dev.pinwright.service.device.DeviceFilter;
import dev.pinwright.service.device.DeviceList;
import dev.pinwright.service.device.DeviceSheets;
import dev.pinwright.service.device.Devices;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.device.Replacement;
import dev.pinwright.service.device.RuleHelp;
import dev.pinwright.service.device.Tags;
import dev.pinwright.service.own.Trails;
import dev.pinwright.service.work.Problem;
import io.javalin.http.Context;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Devices, groups and tags. */
final class DeviceCalls {
  private final Pinwright pinwright;

  DeviceCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  private record DeviceChange(@Nullable String name) {}

  private record TagList(@Nullable List<String> tags) {}

  private record Why(@Nullable String reason) {}

  private record Named(@Nullable List<String> identifiers) {}

  void install(Routes r) {
    Devices devices = pinwright.devices();
    DeviceList list = pinwright.deviceList();
    r.get(
        ROOT + "/devices",
        ctx ->
            json(
                ctx,
                list.page(
                    caller(ctx),
                    filter(ctx),
                    query(ctx, "sort").isEmpty() ? "name" : query(ctx, "sort"),
                    page(ctx))));
    r.get(
        ROOT + "/devices/count",
        ctx -> json(ctx, Map.of("count", list.count(caller(ctx), filter(ctx)))));
    r.post(
        ROOT + "/devices/named",
        ctx -> {
          List<String> typed = body(ctx, Named.class).identifiers();
          json(ctx, list.named(caller(ctx), typed == null ? List.of() : typed));
        });
    r.get(ROOT + "/devices/{id}", ctx -> versioned(ctx, devices.get(caller(ctx), id(ctx))));
    r.patch(
        ROOT + "/devices/{id}",
        ctx ->
            versioned(
                ctx,
                devices.rename(
                    caller(ctx),
                    id(ctx),
                    ifMatch(ctx),
                    text(body(ctx, DeviceChange.class).name()))));
    r.put(
        ROOT + "/devices/{id}/tags",
        ctx -> {
          List<String> tags = body(ctx, TagList.class).tags();
          if (tags == null) {
            throw Problem.malformed("/tags", "Give the list of tags.");
          }
          versioned(ctx, devices.tag(caller(ctx), id(ctx), ifMatch(ctx), tags));
        });
    r.put(
        ROOT + "/devices/{id}/place",
        ctx ->
            versioned(
                ctx,
                devices.place(
                    caller(ctx), id(ctx), ifMatch(ctx), body(ctx, Devices.Placement.class))));
    r.get(
        ROOT + "/devices/{id}/settings",
        ctx -> {
          List<String> groups = ctx.queryParams("inGroup");
          json(
              ctx,
              groups.isEmpty()
                  ? devices.settings(caller(ctx), id(ctx))
                  : devices.settingsIn(caller(ctx), id(ctx), groups));
        });
    r.get(
        ROOT + "/devices/{id}/activity",
        ctx -> json(ctx, devices.activity(caller(ctx), id(ctx), page(ctx))));
    r.get(
        ROOT + "/devices/{id}/commands",
        ctx ->
            json(
                ctx,
                pinwright
                    .commandHistory()
                    .page(caller(ctx), CommandHistory.Filter.ofDevice(id(ctx)), page(ctx))));
    r.get(
        ROOT + "/devices/{id}/recovery-key",
        ctx -> json(ctx, pinwright.recoveryKeys().of(caller(ctx), id(ctx))));
    r.get(
        ROOT + "/devices/{id}/trail",
        ctx -> json(ctx, pinwright.trails().of(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/devices/{id}/trail",
        ctx ->
            json(
                ctx,
                pinwright.trails().look(caller(ctx), id(ctx), body(ctx, Trails.Wanted.class))));
    r.post(
        ROOT + "/devices/{id}/recovery-key",
        ctx ->
            json(
                ctx,
                pinwright
                    .recoveryKeys()
                    .show(caller(ctx), id(ctx), text(body(ctx, Why.class).reason()))));
    r.post(
        ROOT + "/devices/{id}/exit-code",
        ctx -> json(ctx, pinwright.exitCodes().show(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/devices/{id}/replacement",
        ctx ->
            json(
                ctx,
                pinwright
                    .replacement()
                    .replace(caller(ctx), id(ctx), body(ctx, Replacement.Order.class))));
    r.post(
        ROOT + "/devices/{id}/retirement",
        ctx -> {
          devices.retire(caller(ctx), id(ctx), text(body(ctx, Reason.class).reason()));
          ctx.status(204);
        });
    DeviceEdits edits = pinwright.deviceEdits();
    r.post(
        ROOT + "/device-edits/rehearsal",
        ctx -> json(ctx, edits.rehearse(caller(ctx), body(ctx, DeviceEdits.Edit.class))));
    r.post(
        ROOT + "/device-edits",
        ctx -> created(ctx, edits.edit(caller(ctx), body(ctx, DeviceEdits.Edit.class))));
    r.post(
        ROOT + "/changes/{id}/undo/rehearsal",
        ctx -> json(ctx, pinwright.undo().rehearse(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/changes/{id}/undo",
        ctx ->
            created(
                ctx,
                pinwright
                    .undo()
                    .undo(caller(ctx), id(ctx), body(ctx, Given.class).confirmation())));
    r.get(ROOT + "/fleet", ctx -> json(ctx, list.fleet(caller(ctx))));
    tags(r, pinwright.tags());
    DeviceSheets sheets = pinwright.deviceSheets();
    r.get(
        ROOT + "/organisation/devices.csv",
        ctx -> sheet(ctx, "devices", sheets.write(caller(ctx), filter(ctx))));
    r.post(
        ROOT + "/organisation/devices.csv",
        ctx -> json(ctx, sheets.read(caller(ctx), sheetDraft(ctx))));
    r.get(ROOT + "/device-rules/language", ctx -> json(ctx, RuleLanguage.SUBJECTS));
    r.post(
        ROOT + "/device-rules/reading",
        ctx -> json(ctx, pinwright.ruleHelp().read(caller(ctx), body(ctx, RuleHelp.Typed.class))));
    var groups = pinwright.groups();
    r.get(ROOT + "/groups", ctx -> json(ctx, groups.page(caller(ctx), query(ctx, "q"), page(ctx))));
    r.post(
        ROOT + "/groups",
        ctx -> created(ctx, groups.add(caller(ctx), body(ctx, Groups.Draft.class))));
    r.post(
        ROOT + "/groups/rehearsal",
        ctx ->
            json(
                ctx,
                groups.rehearse(caller(ctx), Optional.empty(), body(ctx, Groups.Draft.class))));
    r.put(
        ROOT + "/groups/{id}",
        ctx ->
            json(
                ctx,
                groups.change(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, Groups.Draft.class))));
    r.post(
        ROOT + "/groups/{id}/rehearsal",
        ctx ->
            json(
                ctx,
                groups.rehearse(caller(ctx), Optional.of(id(ctx)), body(ctx, Groups.Draft.class))));
    r.get(ROOT + "/groups/{id}", ctx -> json(ctx, groups.get(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/groups/{id}/members/rehearsal",
        ctx ->
            json(
                ctx,
                groups.rehearseMembers(caller(ctx), id(ctx), body(ctx, Groups.Members.class))));
    r.post(
        ROOT + "/groups/{id}/members",
        ctx -> json(ctx, groups.members(caller(ctx), id(ctx), body(ctx, Groups.Members.class))));
    r.delete(
        ROOT + "/groups/{id}",
        ctx -> {
          groups.delete(caller(ctx), id(ctx));
          ctx.status(204);
        });
  }

  private record TagName(@Nullable String name) {}

  private static void tags(Routes r, Tags tags) {
    r.get(ROOT + "/tags", ctx -> json(ctx, tags.counts(caller(ctx))));
    r.patch(
        ROOT + "/tags/{id}",
        ctx -> {
          tags.rename(caller(ctx), id(ctx), text(body(ctx, TagName.class).name()));
          ctx.status(204);
        });
    r.delete(
        ROOT + "/tags/{id}",
        ctx -> {
          tags.remove(caller(ctx), id(ctx));
          ctx.status(204);
        });
  }

  private static DeviceFilter filter(Context ctx) {
    return new DeviceFilter(
        query(ctx, "q"),
        query(ctx, "platform"),
        query(ctx, "standing"),
        query(ctx, "mode"),
        query(ctx, "ownership"),
        query(ctx, "tag"),
        query(ctx, "group"),
        query(ctx, "unit"),
        query(ctx, "site"),
        query(ctx, "person"),
        query(ctx, "profile"),
        ctx.queryParams("attribute"),
        query(ctx, "rule"),
        number(ctx, "termsBelow").map(Math::toIntExact).orElse(0),
        query(ctx, "retired").equals("true"));
  }
}
