package dev.pinwright.service.house;

import dev.pinwright.core.gateway.PushCredential;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.gateway.GatewayStore;
import dev.pinwright.storage.house.NoticeStore;
import dev.pinwright.storage.row.GatewayRow;
import java.time.ZoneOffset;
import java.util.OptionalInt;
import org.jspecify.annotations.Nullable;

/** What somebody should know: each thing is said once, in the console and by mail. */
public final class HouseNotices {
  private final UseCases useCases;
  private final Mailer mailer;

  public HouseNotices(UseCases useCases, Mailer mailer) {
    this.useCases = useCases;
    this.mailer = mailer;
  }

  /** Notices that are not over, newest first. */
  public Page<NoticeStore.Notice> page(Caller caller, Page.Request page) {
    String[] c = page.parts(Page.Part.TEXT);
    return useCases.read(
        tx ->
            Page.of(
                new NoticeStore(tx).page(c.length == 0 ? "~" : c[0], page.limit() + 1),
                page.limit(),
                n -> Page.cursor(n.id())));
  }

  /** Puts a notice away. */
  public void putAway(Caller caller, String id) {
    useCases.run(
        caller,
        act -> {
          if (!new NoticeStore(act.tx()).putAway(id, act.now())) {
            throw Problem.notFound("notice", id);
          }
          act.touch(Noun.NOTICE);
        });
  }

  /** Looks at every push credential and says what is due; run as often as one likes. */
  public void lookAtCredentials() {
    useCases.run(
        Caller.SERVICE,
        act ->
            new GatewayStore(act.tx())
                .all().stream()
                    .filter(g -> g.pushExpiresAt != null)
                    .forEach(g -> look(act, g.platform)));
    mail();
  }

  private static void look(UseCases.Act act, String platform) {
    GatewayRow g = act.tx().lock(GatewayRow.class, platform).orElseThrow();
    PushCredential held = new PushCredential(g.pushAccount, g.pushTopic, g.pushExpiresAt);
    OptionalInt told = g.pushTold == null ? OptionalInt.empty() : OptionalInt.of(g.pushTold);
    OptionalInt due = held.noticeDue(act.now(), told);
    if (due.isEmpty()) {
      return;
    }
    g.pushTold = due.getAsInt();
    long left = held.daysLeft(act.now());
    String title =
        "Push credential of "
            + g.platform
            + (left < 0 ? " has lapsed" : left == 0 ? " lapses today" : " lapses in " + days(left));
    String detail =
        "It holds until "
            + held.expiresAt().atZone(ZoneOffset.UTC).toLocalDate()
            + ". Make a signing request, have it signed under "
            + held.account()
            + " and bring the result. Without it "
            + g.platform
            + " devices are woken only while they keep a connection open.";
    NoticeStore notices = new NoticeStore(act.tx());
    notices.over("push " + g.platform + " ", act.now());
    notices.give(
        "push " + g.platform + " " + held.expiresAt() + " " + due.getAsInt(),
        new NoticeStore.Notice(
            act.newId(),
            title,
            detail,
            "/house/gateways?open=" + g.platform,
            due.getAsInt() <= 7,
            act.now()));
    act.done(Noun.NOTICE, "given", Noun.GATEWAY, g.platform, title);
  }

  private static String days(long n) {
    return n + (n == 1 ? " day" : " days");
  }

  /** Mails what has not been mailed, when there is a way to. */
  private void mail() {
    @Nullable String to = mailer.noticesTo().orElse(null);
    if (to == null) {
      return;
    }
    for (NoticeStore.Notice n : useCases.read(tx -> new NoticeStore(tx).unmailed())) {
      // claimed before it is sent: a notice that is lost is still in the console
      boolean claimed =
          useCases.act(Caller.SERVICE, act -> new NoticeStore(act.tx()).claim(n.id(), act.now()));
      if (claimed && mailer.send(new Mailer.Letter(to, n.title(), n.detail())).isPresent()) {
        useCases.run(Caller.SERVICE, act -> new NoticeStore(act.tx()).release(n.id()));
        return;
      }
    }
  }
}
