package dev.pinwright.acceptance;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.Revocation;
import dev.pinwright.client.model.RosterImport;
import dev.pinwright.client.model.RosterImport.StateEnum;
import dev.pinwright.client.model.TakeOver;
import dev.pinwright.client.model.ThresholdsDraft;
import dev.pinwright.client.model.WipeStage;
import dev.pinwright.sandbox.device.Agent;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.function.Predicate;
import java.util.function.Supplier;

/**
 * Kills the service at random points of publications, dispatches, wipes, imports and joins, and
 * counts afterwards, on the devices and in the database, whether anything that was acknowledged is
 * lost, happened twice, or left a device stranded.
 */
public final class Kills {
  private static final int ROWS = 400;
  private static final long PATIENCE_MILLIS = 300_000;
  private final Random random;
  private final Rig rig = new Rig();
  private final Desk desk = new Desk(rig);
  private final List<Agent> agents = new CopyOnWriteArrayList<>();
  private final List<String> dispatches = new CopyOnWriteArrayList<>();
  private final List<String> wipes = new CopyOnWriteArrayList<>();
  private final int kills;
  private final int devices;
  private volatile boolean over;
  private volatile int killed;
  private int published;
  private int imported;
  private int interrupted;
  private int faults;

  private Kills(int kills, long seed, int devices) {
    this.kills = kills;
    this.devices = devices;
    random = new Random(seed);
  }

  /** Something an administrator does, which may find the service gone at any point. */
  private interface Deed {
    void once() throws ApiException, InterruptedException;
  }

  /** Does it until the service says that it is done, as a person would. */
  private void untilDone(Deed deed) {
    while (true) {
      try {
        deed.once();
        return;
      } catch (ApiException e) {
        interrupted++;
        pause(150);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        return;
      }
    }
  }

  private static void pause(long millis) {
    try {
      Thread.sleep(millis);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private void publish(Profile profile) {
    for (int n = 0; !over; n++) {
      Map<String, Object> settings = Map.of("passcode.min-length", 6 + n % 5);
      untilDone(
          () -> {
            Profile now = rig.client.rules().getProfile(profile.getId());
            if (!settings.equals(now.getSettings())) {
              desk.change(profile, settings);
            }
            if (rig.client.rules().getProfile(profile.getId()).getDraftChanged()) {
              desk.publish(profile);
            }
          });
      published++;
      pause(400);
    }
  }

  private void order() {
    for (int n = 0; !over; n++) {
      String key = "kills-" + n;
      DispatchOrder order =
          new DispatchOrder()
              .command(CommandKey.MESSAGE)
              .fields(Map.of("text", key))
              .targets(List.of(Desk.everyone()));
      untilDone(
          () -> {
            order.confirmDevices(rig.client.acting().rehearseDispatch(order).getConfirmDevices());
            dispatches.add(desk.order(order, key).getId());
          });
      pause(1_500);
    }
  }

  /** Wipes the work part of one device after the other, and revokes that once it was looked at. */
  private void wipe(int among) {
    for (int n = 0; !over; n++) {
      String key = "kills-wipe-" + n;
      Agent agent = agents.get(n % among);
      DispatchOrder order =
          new DispatchOrder()
              .command(CommandKey.WIPE_WORK)
              .reason(key)
              .serials(List.of(agent.screen().serial()));
      String wipe = patiently(() -> desk.order(order, key)).getId() + "-1";
      wipes.add(wipe);
      while (!over && patiently(() -> rig.client.acting().getWipe(wipe)).getProvedAt() == null) {
        pause(200);
      }
      untilDone(
          () -> {
            if (rig.client.acting().getWipe(wipe).getNotRevocable() == null) {
              rig.client.acting().revokeWipe(wipe, new Revocation().reason(key));
            }
          });
      while (!over && patiently(() -> rig.client.acting().getWipe(wipe)).getRestoredAt() == null) {
        pause(200);
      }
    }
  }

  private void read() {
    for (int n = 0; !over; n++) {
      StringBuilder csv = new StringBuilder("serial,asset\n");
      for (int i = 0; i < ROWS; i++) {
        csv.append("KL%04d-%04d,KA-%04d-%04d%n".formatted(n, i, n, i));
      }
      untilDone(
          () -> {
            RosterImport sheet =
                rig.client.intake().checkRosterSheet(csv.toString(), "kills", null);
            String id = sheet.getId();
            while (sheet.getState() == StateEnum.CHECKING) {
              pause(50);
              sheet = patiently(() -> rig.client.intake().getRosterImport(id));
            }
            patiently(
                () -> {
                  RosterImport now = rig.client.intake().getRosterImport(id);
                  return now.getState() == StateEnum.SAVED
                      ? now
                      : rig.client.intake().takeOverRosterSheet(id, new TakeOver());
                });
          });
      imported++;
      pause(700);
    }
  }

  private interface Question<T> {
    T ask() throws ApiException;
  }

  private <T> T patiently(Question<T> question) {
    List<T> answer = new ArrayList<>();
    untilDone(() -> answer.add(question.ask()));
    return answer.get(0);
  }

  private void join(Invitation invitation, int first) {
    for (int i = first; i < devices; i++) {
      Agent agent = rig.unpackAutomatic("T10");
      agents.add(agent);
      while (!agent.screen().managed()) {
        String screen = agent.screen().screen();
        if (screen.equals("new") || screen.equals("refused")) {
          agent.take(invitation.getLink()).exceptionally(e -> null).join();
        } else if (screen.equals("offered")) {
          agent.accept(null).exceptionally(e -> null).join();
        }
        pause(300);
      }
      // spread over the whole run
      while (!over && (i + 1 - first) * kills > killed * (devices - first)) {
        pause(100);
      }
    }
  }

  private void run() throws Exception {
    Invitation invitation = desk.kiosks("Kiosks", devices);
    rig.server.close();
    ServiceProcess service = new ServiceProcess(rig);
    int first = devices / 2;
    for (int i = 0; i < first; i++) {
      agents.add(rig.join(rig.unpackAutomatic("T10"), invitation.getLink()));
    }
    Profile profile = desk.profile("Kills", Map.of("passcode.min-length", 6), Desk.everyone());
    desk.publish(profile);
    rig.client
        .house()
        .setThresholds(
            Desk.onVersion(rig.client.house().getThresholds().getVersion()),
            new ThresholdsDraft().number(25L).alone(100_000L).password(Rig.PASSWORD));
    ExecutorService work = Executors.newFixedThreadPool(5);
    work.execute(() -> publish(profile));
    work.execute(this::order);
    work.execute(this::read);
    work.execute(() -> wipe(first));
    work.execute(() -> join(invitation, first));
    long started = System.nanoTime();
    for (int n = 1; n <= kills; n++) {
      pause(200 + random.nextInt(4_300));
      service.kill();
      service = new ServiceProcess(rig);
      killed = n;
      if (n % 25 == 0) {
        System.out.printf(
            "%d kills: %d publications, %d dispatches, %d wipes, %d sheets acknowledged, %d devices asked%n",
            n, published, dispatches.size(), wipes.size(), imported, agents.size());
      }
    }
    over = true;
    work.shutdown();
    work.awaitTermination(10, TimeUnit.MINUTES);
    double minutes = (System.nanoTime() - started) / 6e10;
    System.out.printf(
        "%d kills in %.0f minutes met %d calls that had to be repeated. Acknowledged: %d"
            + " publications, %d dispatches, %d wipes, %d sheets of %d rows, %d devices.%n",
        kills,
        minutes,
        interrupted,
        published,
        dispatches.size(),
        wipes.size(),
        imported,
        ROWS,
        agents.size());
    count(6 + (published - 1) % 5);
    service.kill();
  }

  /** Counts what there has to be, once everything had time to come to rest. */
  private void count(int minLength) throws ApiException {
    holds(
        "every device is managed and none is stranded",
        () -> agents.stream().filter(a -> !a.screen().managed()).count(),
        n -> n == 0);
    holds(
        "every device is on file once",
        () -> patiently(() -> rig.client.devices().getFleet()).getTotal(),
        n -> n == agents.size());
    holds(
        "every device has the setting that was published last",
        () ->
            agents.stream()
                .filter(
                    a ->
                        a.screen().settings().stream()
                            .noneMatch(t -> t.value().equals(minLength + " characters")))
                .count(),
        n -> n == 0);
    holds(
        "every dispatch came to its end",
        () ->
            dispatches.stream()
                .filter(id -> !patiently(() -> rig.client.acting().getDispatch(id)).getEnded())
                .count(),
        n -> n == 0);
    for (String wipe : wipes) {
      untilDone(
          () -> {
            if (rig.client.acting().getWipe(wipe).getNotRevocable() == null) {
              rig.client.acting().revokeWipe(wipe, new Revocation().reason("the end"));
            }
          });
    }
    holds(
        "everything is back on every device whose work part was wiped",
        () ->
            wipes.stream()
                .map(id -> patiently(() -> rig.client.acting().getWipe(id)))
                .filter(w -> w.getStage() != WipeStage.RESTORED)
                .count(),
        n -> n == 0);
    long wiped =
        agents.stream().mapToLong(a -> a.screen().runs().getOrDefault("wipe-work", 0)).sum();
    fault("each of " + wipes.size() + " wipes was carried out once", wiped == wipes.size());
    Map<String, Long> states = new LinkedHashMap<>();
    long ordered = 0;
    for (String id : dispatches) {
      for (Map.Entry<String, Long> e : rig.client.acting().getDispatch(id).getStates().entrySet()) {
        states.merge(e.getKey(), e.getValue(), Long::sum);
        ordered += e.getValue();
      }
    }
    long shown = agents.stream().mapToLong(a -> a.screen().runs().getOrDefault("message", 0)).sum();
    System.out.printf(
        "%d commands were ordered: %s; devices showed %d messages%n", ordered, states, shown);
    long done = states.getOrDefault("done", 0L);
    fault("every command was carried out once", ordered == done && shown == done);
    fault("no order became two", dispatches.stream().distinct().count() == dispatches.size());
    long rows = rig.client.intake().countRoster().getOrDefault("expected", 0L);
    fault(
        "every row of every sheet is on the roster once (" + rows + ")",
        rows == (long) imported * ROWS);
    fault("the journal is whole", rig.client.records().verifyJournal().getIntact());
  }

  private <T> void holds(String what, Supplier<T> now, Predicate<T> right) {
    long end = System.currentTimeMillis() + PATIENCE_MILLIS;
    T value = now.get();
    while (!right.test(value) && System.currentTimeMillis() < end) {
      pause(500);
      value = now.get();
    }
    fault(what + (right.test(value) ? "" : " (" + value + ")"), right.test(value));
  }

  private void fault(String what, boolean right) {
    System.out.println((right ? "yes  " : "NO   ") + what);
    faults += right ? 0 : 1;
  }

  /**
   * Takes how many kills, 300 unless said otherwise, a seed, and how many devices, 200 unless said
   * otherwise. Fails where something is wrong.
   */
  public static void main(String[] args) throws Exception {
    int kills = args.length > 0 ? Integer.parseInt(args[0]) : 300;
    long seed = args.length > 1 ? Long.parseLong(args[1]) : 20_260_301;
    Kills run = new Kills(kills, seed, args.length > 2 ? Integer.parseInt(args[2]) : 200);
    run.run();
    System.exit(run.faults == 0 ? 0 : 1);
  }
}
