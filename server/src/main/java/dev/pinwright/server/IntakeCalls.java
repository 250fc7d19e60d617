package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;

import dev.pinwright.service.Pinwright;
import dev.pinwright.service.intake.EnrollmentProfiles;
import dev.pinwright.service.intake.Invitations;
import io.javalin.config.RoutesConfig;
import org.jspecify.annotations.Nullable;

/** How devices get in. */
final class IntakeCalls {
  private final Pinwright pinwright;

  IntakeCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  private record NewTerms(@Nullable String title, @Nullable String text) {}

  void install(RoutesConfig r) {
    EnrollmentProfiles profiles = pinwright.enrollmentProfiles();
    r.get(ROOT + "/terms", ctx -> json(ctx, profiles.terms(caller(ctx))));
    r.post(
        ROOT + "/terms",
        ctx -> {
          NewTerms t = body(ctx, NewTerms.class);
          created(ctx, profiles.addTerms(caller(ctx), t.title(), t.text()));
        });
    r.get(ROOT + "/enrollment-profiles", ctx -> json(ctx, profiles.page(caller(ctx), page(ctx))));
    r.post(
        ROOT + "/enrollment-profiles",
        ctx -> {
          var made = profiles.add(caller(ctx), body(ctx, EnrollmentProfiles.Draft.class));
          ctx.status(201);
          versioned(ctx, made.version(), made);
        });
    r.get(
        ROOT + "/enrollment-profiles/{id}",
        ctx -> {
          var shown = profiles.get(caller(ctx), id(ctx));
          versioned(ctx, shown.version(), shown);
        });
    r.put(
        ROOT + "/enrollment-profiles/{id}",
        ctx -> {
          var shown =
              profiles.change(
                  caller(ctx), id(ctx), ifMatch(ctx), body(ctx, EnrollmentProfiles.Draft.class));
          versioned(ctx, shown.version(), shown);
        });
    r.delete(
        ROOT + "/enrollment-profiles/{id}",
        ctx -> {
          profiles.delete(caller(ctx), id(ctx));
          ctx.status(204);
        });
    invitations(r, pinwright.invitations());
    r.get(
        ROOT + "/arrivals",
        ctx -> json(ctx, pinwright.arrivals().page(caller(ctx), query(ctx, "outcome"), page(ctx))));
    r.post(
        ROOT + "/arrivals/{id}/approval",
        ctx -> json(ctx, pinwright.arrivals().approve(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/arrivals/{id}/refusal",
        ctx ->
            json(
                ctx,
                pinwright
                    .arrivals()
                    .refuse(caller(ctx), id(ctx), text(body(ctx, Reason.class).reason()))));
  }

  private void invitations(RoutesConfig r, Invitations invitations) {
    r.get(ROOT + "/invitations", ctx -> json(ctx, invitations.page(caller(ctx), page(ctx))));
    r.post(
        ROOT + "/invitations",
        ctx -> created(ctx, invitations.add(caller(ctx), body(ctx, Invitations.Draft.class))));
    r.get(ROOT + "/invitations/{id}", ctx -> json(ctx, invitations.get(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/invitations/{id}/withdrawal",
        ctx -> json(ctx, invitations.withdraw(caller(ctx), id(ctx))));
    r.get(
        ROOT + "/invitations/{id}/qr.svg",
        ctx -> {
          ctx.result(invitations.qr(caller(ctx), id(ctx)).svg());
          ctx.contentType("image/svg+xml");
        });
    r.get(
        ROOT + "/invitations/{id}/qr.png",
        ctx -> {
          ctx.result(invitations.qr(caller(ctx), id(ctx)).png(8));
          ctx.contentType("image/png");
        });
    r.get(
        ROOT + "/invitations/{id}/join-file",
        ctx -> {
          json(ctx, invitations.file(caller(ctx), id(ctx)));
          ctx.header("Content-Disposition", "attachment; filename=\"join.json\"");
        });
  }
}
