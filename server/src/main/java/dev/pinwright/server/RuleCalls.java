package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.catalog.ProfileSchema;
import dev.pinwright.core.Words;
import dev.pinwright.core.change.WaveVerb;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.rules.PasscodeTrial;
import dev.pinwright.service.rules.ProfileFiles;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.rules.Publishing;
import dev.pinwright.service.rules.Waves;
import dev.pinwright.service.work.ManyLines;
import dev.pinwright.service.work.Problem;
import io.javalin.http.Context;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Profiles and the changes they make. */
final class RuleCalls {
  private final Pinwright pinwright;

  RuleCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  private static ProfileKind kind(Context ctx) {
    String kind = query(ctx, "kind");
    return kind.isEmpty()
        ? ProfileKind.PROFILE
        : Problem.reading("/kind", () -> Words.parse(ProfileKind.class, kind));
  }

  private record Name(@Nullable String name) {}

  private record Publication(
      Optional<Long> confirmDevices,
      @ManyLines Optional<String> reason,
      Optional<Waves.Spec> waves) {}

  private record WaveAct(@Nullable WaveVerb verb, int at) {}

  private record Spreading(Optional<Waves.Shown> spreading) {}

  private Publishing.Published publication(Context ctx) {
    Publication said = body(ctx, Publication.class);
    return pinwright
        .publishing()
        .publish(
            caller(ctx),
            id(ctx),
            ifMatch(ctx),
            given(said.confirmDevices(), said.reason()),
            said.waves());
  }

  void install(Routes r) {
    Profiles profiles = pinwright.profiles();
    Publishing publishing = pinwright.publishing();
    r.get(
        ROOT + "/profiles",
        ctx -> json(ctx, profiles.page(caller(ctx), kind(ctx), query(ctx, "q"), page(ctx))));
    r.post(
        ROOT + "/profiles",
        ctx -> {
          var made = profiles.add(caller(ctx), body(ctx, Profiles.Draft.class));
          ctx.status(201);
          versioned(ctx, made.version(), made);
        });
    r.get(
        ROOT + "/profiles/{id}",
        ctx -> {
          var shown = profiles.get(caller(ctx), id(ctx));
          versioned(ctx, shown.version(), shown);
        });
    r.put(
        ROOT + "/profiles/{id}",
        ctx -> {
          var shown =
              profiles.change(caller(ctx), id(ctx), ifMatch(ctx), body(ctx, Profiles.Draft.class));
          versioned(ctx, shown.version(), shown);
        });
    r.delete(
        ROOT + "/profiles/{id}",
        ctx -> {
          publishing.delete(caller(ctx), id(ctx), ifMatch(ctx), asked(ctx));
          ctx.status(204);
        });
    r.post(
        ROOT + "/profiles/{id}/deletion/rehearsal",
        ctx -> json(ctx, publishing.rehearseDeletion(caller(ctx), id(ctx))));
    r.get(
        ROOT + "/profiles/{id}/rehearsal",
        ctx -> json(ctx, publishing.rehearse(caller(ctx), id(ctx))));
    r.get(
        ROOT + "/profiles/{id}/rehearsal/{effect}/devices",
        ctx ->
            json(
                ctx, publishing.devices(caller(ctx), id(ctx), ctx.pathParam("effect"), page(ctx))));
    r.post(ROOT + "/profiles/{id}/publication", ctx -> json(ctx, publication(ctx)));
    r.get(
        ROOT + "/profiles/{id}/versions",
        ctx -> json(ctx, publishing.versions(caller(ctx), id(ctx), page(ctx))));
    r.post(
        ROOT + "/profiles/{id}/versions/{number}/restoration",
        ctx -> {
          var shown =
              profiles.restore(
                  caller(ctx), id(ctx), ifMatch(ctx), numbered(ctx, "number", "version"));
          versioned(ctx, shown.version(), shown);
        });
    Waves waves = pinwright.waves();
    r.get(
        ROOT + "/profiles/{id}/waves",
        ctx -> json(ctx, new Spreading(waves.get(caller(ctx), id(ctx)))));
    r.post(
        ROOT + "/profiles/{id}/waves",
        ctx -> {
          WaveAct said = body(ctx, WaveAct.class);
          json(ctx, new Spreading(waves.act(caller(ctx), id(ctx), said.verb(), said.at())));
        });
    r.get(
        ROOT + "/profiles/{id}/standing",
        ctx -> json(ctx, profiles.standing(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/profiles/{id}/copy",
        ctx -> {
          var made = profiles.copy(caller(ctx), id(ctx), text(body(ctx, Name.class).name()));
          ctx.status(201);
          versioned(ctx, made.version(), made);
        });
    ProfileFiles files = pinwright.profileFiles();
    r.get(ROOT + "/profiles/{id}/file", ctx -> json(ctx, files.write(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/profile-files",
        ctx -> {
          var made = files.read(caller(ctx), body(ctx, ProfileFiles.File.class));
          ctx.status(201);
          versioned(ctx, made.version(), made);
        });
    r.post(
        ROOT + "/passcode-trial",
        ctx ->
            json(
                ctx,
                pinwright.passcodeTrial().judge(caller(ctx), body(ctx, PasscodeTrial.Try.class))));
    var schema = ProfileSchema.of(pinwright.catalogue());
    r.get(ROOT + "/profile-files/schema", ctx -> json(ctx, schema));
    r.get(ROOT + "/baseline", ctx -> json(ctx, pinwright.baseline().show(caller(ctx))));
    r.post(
        ROOT + "/baseline",
        ctx -> {
          var made = pinwright.baseline().write(caller(ctx));
          ctx.status(201);
          versioned(ctx, made.version(), made);
        });
    r.get(ROOT + "/changes", ctx -> json(ctx, pinwright.changes().page(caller(ctx), page(ctx))));
    r.get(ROOT + "/changes/{id}", ctx -> json(ctx, pinwright.changes().get(caller(ctx), id(ctx))));
  }
}
