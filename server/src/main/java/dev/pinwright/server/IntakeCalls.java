package dev.pinwright.server;

import static dev.pinwright.server.Calls.*;
import static dev.pinwright.server.Calls.moment;
import static dev.pinwright.server.Calls.sheet;

import dev.pinwright.core.enrollment.EnrollmentForm;
import dev.pinwright.service.Pinwright;
import dev.pinwright.service.arrival.Arrivals;
import dev.pinwright.service.enrollment.EnrollmentProfiles;
import dev.pinwright.service.invitation.BulkInvitations;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.naming.NamePreview;
import dev.pinwright.service.terms.HolderTerms;
import io.javalin.http.Context;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** How devices get in. */
final class IntakeCalls {
  private final Pinwright pinwright;

  IntakeCalls(Pinwright pinwright) {
    this.pinwright = pinwright;
  }

  private record Copy(@Nullable String name) {}

  private record Settlement(
      @Nullable List<String> ids, @Nullable Boolean approve, @Nullable String reason) {}

  private static Instant since(Context ctx) {
    return moment(ctx, "since").orElse(Instant.EPOCH);
  }

  void install(Routes r) {
    EnrollmentProfiles profiles = pinwright.enrollmentProfiles();
    terms(r, pinwright.terms());
    r.get(
        ROOT + "/privacy",
        ctx ->
            json(
                ctx,
                PrivacyView.of(
                    caller(ctx),
                    pinwright.catalogue(),
                    query(ctx, "ownership"),
                    query(ctx, "mode"))));
    r.get(ROOT + "/enrollment-profiles", ctx -> json(ctx, profiles.page(caller(ctx), page(ctx))));
    records(r, "/enrollment-profiles", profiles, EnrollmentForm.class);
    r.post(
        ROOT + "/enrollment-profiles/{id}/copies",
        ctx -> {
          var made = profiles.copy(caller(ctx), id(ctx), body(ctx, Copy.class).name());
          ctx.status(201);
          versioned(ctx, made);
        });
    r.get(
        ROOT + "/enrollment-profiles/{id}/versions",
        ctx -> json(ctx, profiles.versions(caller(ctx), id(ctx), page(ctx))));
    r.get(
        ROOT + "/enrollment-profiles/{id}/uses",
        ctx -> json(ctx, profiles.uses(caller(ctx), id(ctx))));
    r.post(
        ROOT + "/enrollment-profiles/holder-preview",
        ctx ->
            json(
                ctx,
                pinwright
                    .holderPreview()
                    .show(caller(ctx), body(ctx, EnrollmentForm.class), query(ctx, "platform"))));
    invitations(r, pinwright.invitations());
    r.post(
        ROOT + "/enrollment-profiles/name-preview",
        ctx ->
            json(
                ctx,
                pinwright.namePreview().show(caller(ctx), body(ctx, NamePreview.Draft.class))));
    r.get(
        ROOT + "/arrivals",
        ctx -> json(ctx, pinwright.arrivals().page(caller(ctx), arrivals(ctx), page(ctx))));
    r.get(
        ROOT + "/arrivals.csv",
        ctx -> sheet(ctx, "arrivals", pinwright.arrivals().sheet(caller(ctx), arrivals(ctx))));
    r.get(
        ROOT + "/arrivals/funnel",
        ctx -> json(ctx, pinwright.arrivals().funnel(caller(ctx), since(ctx))));
    r.post(
        ROOT + "/arrivals/settlement",
        ctx -> {
          Settlement s = body(ctx, Settlement.class);
          int n =
              pinwright
                  .arrivals()
                  .settle(
                      caller(ctx),
                      s.ids() == null ? List.of() : s.ids(),
                      Boolean.TRUE.equals(s.approve()),
                      text(s.reason()));
          json(ctx, Map.of("count", n));
        });
    r.post(
        ROOT + "/arrivals/{id}/retry",
        ctx -> json(ctx, pinwright.arrivals().retry(caller(ctx), id(ctx))));
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

  private static Arrivals.Filter arrivals(Context ctx) {
    return new Arrivals.Filter(query(ctx, "outcome"), query(ctx, "q"), since(ctx));
  }

  private static int version(Context ctx) {
    return numbered(ctx, "version", "version of the terms");
  }

  private static void terms(Routes r, HolderTerms terms) {
    r.get(ROOT + "/terms", ctx -> json(ctx, terms.all(caller(ctx))));
    r.post(
        ROOT + "/terms",
        ctx -> created(ctx, terms.add(caller(ctx), body(ctx, HolderTerms.Draft.class))));
    r.get(
        ROOT + "/terms/{version}/acceptances",
        ctx -> json(ctx, terms.acceptances(caller(ctx), version(ctx), page(ctx))));
    r.get(
        ROOT + "/terms/{version}/acceptances.csv",
        ctx ->
            sheet(
                ctx,
                "terms-" + version(ctx) + "-accepted",
                terms.sheet(caller(ctx), version(ctx))));
  }

  private record Extension(@Nullable Long expiresInMinutes) {}

  private static Invitations.Filter invitationsAsked(Context ctx) {
    return new Invitations.Filter(query(ctx, "state"), query(ctx, "q"));
  }

  private void invitations(Routes r, Invitations invitations) {
    r.get(
        ROOT + "/invitations",
        ctx -> json(ctx, invitations.page(caller(ctx), invitationsAsked(ctx), page(ctx))));
    r.get(
        ROOT + "/invitations.csv",
        ctx -> sheet(ctx, "invitations", invitations.sheet(caller(ctx), invitationsAsked(ctx))));
    r.post(
        ROOT + "/invitations/many",
        ctx ->
            json(
                ctx,
                pinwright
                    .bulkInvitations()
                    .invite(caller(ctx), body(ctx, BulkInvitations.Draft.class))));
    r.get(
        ROOT + "/invitations/sheet.pdf",
        ctx -> {
          ctx.result(invitations.sheet(caller(ctx), ctx.queryParams("id")));
          ctx.contentType("application/pdf");
          ctx.header("Content-Disposition", "inline; filename=\"invitations.pdf\"");
        });
    r.post(
        ROOT + "/invitations/{id}/extension",
        ctx ->
            json(
                ctx,
                invitations.extend(
                    caller(ctx), id(ctx), body(ctx, Extension.class).expiresInMinutes())));
    r.post(
        ROOT + "/invitations/{id}/reminder",
        ctx -> json(ctx, invitations.remind(caller(ctx), id(ctx))));
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
