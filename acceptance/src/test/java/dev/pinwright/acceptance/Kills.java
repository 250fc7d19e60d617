package dev.pinwright.acceptance;

import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.DispatchOrder;
import dev.pinwright.client.model.EnrollmentProfileDraft;
import dev.pinwright.client.model.Invitation;
import dev.pinwright.client.model.Mode;
import dev.pinwright.client.model.PlatformKey;
import dev.pinwright.client.model.Profile;
import dev.pinwright.client.model.Revocation;
import dev.pinwright.client.model.RosterImport;
import dev.pinwright.client.model.RosterImport.StateEnum;
import dev.pinwright.client.model.TakeOver;
import dev.pinwright.client.model.ThresholdsDraft;
import dev.pinwright.client.model.Wipe;
import dev.pinwright.client.model.WipeStage;
import dev.pinwright.sandbox.device.Agent;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.BooleanSupplier;
import java.util.function.Predicate;
import java.util.function.Supplier;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * Kills the service at random points of publications, dispatches, wipes that are revoked, erasures,
 * imports and joins, and counts afterwards, on the devices and in the database, whether anything
 * that was acknowledged is lost, happened twice, or left a device stranded.
 */
public final class Kills {
  private static final int ROWS = 400;
  private static final int WIPERS = 4;
  private static final int ERASERS = 2;

  /** Work parts that one order wipes. */
  private static final int AT_ONCE = 5;

  /** Of so many devices one more is lent out, and erased again and again. */
  private static final int LENT = 10;

  /** After so many kills another device joins. */
  private static final int JOINS_EVERY = 4;

  /** One kill of so many comes while the devices come back, the others once they did something. */
  private static final int EARLY_EVERY = 5;

  /** A kill comes once something was carried out on one device of so many at most. */
  private static final int STIRRED = 20;

  /** How long that is waited for, and how long after it the kill comes at most. */
  private static final long STIR_MILLIS = 40_000;

  private static final int AFTER_MILLIS = 2_000;

  /** Rarely enough that devices get to hold what was published, and often enough to be hit. */
  private static final long PUBLISHED_EVERY = 15_000;

  private static final long PATIENCE_MILLIS = 300_000;

  private final Random random;
  private final Rig rig = new Rig();
  private final Desk desk = new Desk(rig);
  private final List<Agent> agents = new CopyOnWriteArrayList<>();
  private final List<Agent> lent = new CopyOnWriteArrayList<>();
  private final List<String> dispatches = new CopyOnWriteArrayList<>();
  private final List<String> wipes = new CopyOnWriteArrayList<>();
  private final List<String> erasures = new CopyOnWriteArrayList<>();
  private final int kills;
  private final int devices;
  private final Set<String> refusals = ConcurrentHashMap.newKeySet();
  private Invitation loans;
  private volatile boolean over;
  private volatile int killed;
  private int published;
  private int imported;
  private final AtomicInteger interrupted = new AtomicInteger();
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
        interrupted.incrementAndGet();
        if (e.getCode() > 0 && refusals.add(e.getMessage())) {
          System.out.println("refused, and tried again: " + e.getMessage());
        }
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
      pause(PUBLISHED_EVERY);
    }
  }

  private void order() {
    for (int n = 0; !over; n++) {
      String key = "kills-" + n;
      DispatchOrder order =
          new DispatchOrder()
              .command(CommandKey.MESSAGE)
              .fields(Map.of("text", key))
              .targets(List.of(Desk.tag("gallery")));
      String dispatch =
          patiently(
                  () -> {
                    order.confirmDevices(
                        rig.client.acting().rehearseDispatch(order).getConfirmDevices());
                    return desk.order(order, key);
                  })
              .getId();
      dispatches.add(dispatch);
      until(() -> halfDone(dispatch));
    }
  }

  /** Waits until some of the devices carried something out, how many is left to chance. */
  private void stir() {
    long enough = carriedOut() + 1 + random.nextInt(Math.max(1, devices / STIRRED));
    long end = System.currentTimeMillis() + STIR_MILLIS;
    while (carriedOut() < enough && System.currentTimeMillis() < end) {
      pause(200);
    }
  }

  private boolean halfDone(String dispatch) {
    pause(1_000);
    Map<String, Long> states =
        patiently(() -> rig.client.acting().getDispatch(dispatch)).getStates();
    long all = states.values().stream().mapToLong(n -> n).sum();
    return states.getOrDefault("done", 0L) * 2 >= all;
  }

  /** Wipes work parts, some at once, and revokes that once it was looked at; a share of all. */
  private void wipe(int share) {
    int each = devices / WIPERS;
    for (int n = 0; !over; n++) {
      String key = "kills-wipe-" + share + "-" + n;
      List<String> serials = new ArrayList<>();
      for (int i = 0; i < Math.min(AT_ONCE, each); i++) {
        serials.add(agents.get(share * each + (n * AT_ONCE + i) % each).screen().serial());
      }
      DispatchOrder order =
          new DispatchOrder()
              .command(CommandKey.WIPE_WORK)
              .reason(key)
              .serials(serials)
              .confirmDevices((long) serials.size());
      String dispatch = patiently(() -> desk.order(order, key)).getId();
      List<String> now =
          IntStream.rangeClosed(1, serials.size()).mapToObj(i -> dispatch + "-" + i).toList();
      wipes.addAll(now);
      now.forEach(wipe -> until(() -> asked(wipe).getProvedAt() != null));
      now.forEach(wipe -> revoke(wipe, key));
      now.forEach(wipe -> until(() -> asked(wipe).getRestoredAt() != null));
    }
  }

  /** Erases what was lent out, one device after the other, and lets it join again; a share. */
  private void erase(int share) {
    for (int n = share; !over; n += ERASERS) {
      String key = "kills-erase-" + n;
      Agent agent = lent.get(n % lent.size());
      DispatchOrder order =
          new DispatchOrder()
              .command(CommandKey.WIPE)
              .reason(key)
              .serials(List.of(agent.screen().serial()));
      String wipe = patiently(() -> desk.order(order, key)).getId() + "-1";
      erasures.add(wipe);
      while (asked(wipe).getProvedAt() == null) {
        pause(200);
      }
      join(agent, loans);
    }
  }

  private Wipe asked(String wipe) {
    return patiently(() -> rig.client.acting().getWipe(wipe));
  }

  private void revoke(String wipe, String why) {
    untilDone(
        () -> {
          if (rig.client.acting().getWipe(wipe).getNotRevocable() == null) {
            rig.client.acting().revokeWipe(wipe, new Revocation().reason(why));
          }
        });
  }

  /** Waits until something is so, or everything is over. */
  private void until(BooleanSupplier so) {
    while (!over && !so.getAsBoolean()) {
      pause(200);
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

  private void join(Agent agent, Invitation invitation) {
    while (!agent.screen().managed()) {
      String screen = agent.screen().screen();
      if (screen.equals("new") || screen.equals("refused")) {
        agent.take(invitation.getLink()).exceptionally(e -> null).join();
      } else if (screen.equals("offered")) {
        agent.accept(null).exceptionally(e -> null).join();
      }
      pause(300);
    }
  }

  /** Lets more devices join, spread over the whole run. */
  private void join(Invitation kiosks) {
    for (int n = 1; n * JOINS_EVERY <= kills; n++) {
      int when = n * JOINS_EVERY;
      until(() -> killed >= when);
      Agent agent = rig.unpackAutomatic("T10");
      agents.add(agent);
      join(agent, kiosks);
    }
  }

  private void run() throws Exception {
    Invitation kiosks = desk.kiosks("Kiosks", devices + kills);
    loans =
        desk.invite(
            desk.enrollment(new EnrollmentProfileDraft().name("Loans").mode(Mode.SUPERVISED)),
            100_000);
    new Gates(rig).services(PlatformKey.TARN);
    rig.server.close();
    Path archive = Files.createTempDirectory("pinwright-kills").resolve("classes.jsa");
    new ServiceProcess(rig, ServiceProcess.QUICK, "-XX:ArchiveClassesAtExit=" + archive).stop();
    String[] again = {ServiceProcess.QUICK, "-XX:SharedArchiveFile=" + archive};
    ServiceProcess service = new ServiceProcess(rig, again);
    agents.addAll(rig.joinMany(devices, i -> kiosks.getLink()));
    lent.addAll(rig.joinMany(Math.max(ERASERS, devices / LENT), i -> loans.getLink()));
    Profile profile = desk.profile("Kills", Map.of("passcode.min-length", 6), Desk.everyone());
    desk.publish(profile);
    rig.client
        .house()
        .setThresholds(
            Desk.onVersion(rig.client.house().getThresholds().getVersion()),
            new ThresholdsDraft().number(25L).alone(100_000L).password(Rig.PASSWORD));
    ExecutorService work = Executors.newFixedThreadPool(4 + WIPERS + ERASERS);
    work.execute(() -> publish(profile));
    work.execute(this::order);
    work.execute(this::read);
    work.execute(() -> join(kiosks));
    IntStream.range(0, WIPERS).forEach(share -> work.execute(() -> wipe(share)));
    IntStream.range(0, ERASERS).forEach(share -> work.execute(() -> erase(share)));
    long started = System.nanoTime();
    for (int n = 1; n <= kills; n++) {
      if (n % EARLY_EVERY != 0) {
        stir();
      }
      pause(random.nextInt(AFTER_MILLIS));
      service.kill();
      service = new ServiceProcess(rig, again);
      killed = n;
      if (n % 10 == 0) {
        System.out.printf(
            "%d kills in %d s: %d publications, %d dispatches, %d wipes, %d erasures, %d sheets"
                + " acknowledged, %d devices asked, %d times something was carried out%n",
            n,
            (System.nanoTime() - started) / 1_000_000_000,
            published,
            dispatches.size(),
            wipes.size(),
            erasures.size(),
            imported,
            agents.size() + lent.size(),
            carriedOut());
      }
    }
    over = true;
    work.shutdown();
    work.awaitTermination(10, TimeUnit.MINUTES);
    double minutes = (System.nanoTime() - started) / 6e10;
    System.out.printf(
        "%d kills in %.0f minutes met %d calls that had to be repeated. Acknowledged: %d"
            + " publications, %d dispatches, %d work parts wiped, %d devices erased, %d sheets of %d"
            + " rows, %d devices.%n",
        kills,
        minutes,
        interrupted.get(),
        published,
        dispatches.size(),
        wipes.size(),
        erasures.size(),
        imported,
        ROWS,
        agents.size() + lent.size());
    count(6 + (published - 1) % 5);
    service.kill();
  }

  /** Counts what there has to be, once everything had time to come to rest. */
  private void count(int minLength) throws ApiException {
    holds(
        "every device is managed and none is stranded",
        () -> all().filter(a -> !a.screen().managed()).count(),
        n -> n == 0);
    holds(
        "every device is on file once",
        () -> patiently(() -> rig.client.devices().getFleet()).getTotal(),
        n -> n == agents.size() + lent.size());
    holds(
        "every device has the setting that was published last",
        () ->
            all()
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
    wipes.forEach(wipe -> revoke(wipe, "the end"));
    holds(
        "everything is back on every device whose work part was wiped",
        () ->
            wipes.stream().map(this::asked).filter(w -> w.getStage() != WipeStage.RESTORED).count(),
        n -> n == 0);
    long wiped = runs("wipe-work");
    fault(
        wiped + " work parts were wiped on the devices, each once that was ordered",
        wiped == wipes.size());
    holds(
        "every device that was erased proved itself blank",
        () -> erasures.stream().filter(id -> asked(id).getProvedAt() == null).count(),
        n -> n == 0);
    long erased = runs("wipe");
    fault(
        erased + " devices erased themselves, each once that was ordered",
        erased == erasures.size());
    Map<String, Long> states = new LinkedHashMap<>();
    long ordered = 0;
    for (String id : dispatches) {
      for (Map.Entry<String, Long> e : rig.client.acting().getDispatch(id).getStates().entrySet()) {
        states.merge(e.getKey(), e.getValue(), Long::sum);
        ordered += e.getValue();
      }
    }
    long shown = runs("message");
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

  private Stream<Agent> all() {
    return Stream.concat(agents.stream(), lent.stream());
  }

  /** How much was carried out on the devices so far. */
  private long carriedOut() {
    return all()
        .flatMap(a -> a.screen().runs().values().stream())
        .mapToLong(Integer::longValue)
        .sum();
  }

  /** How often a command was carried out, counted on the devices. */
  private long runs(String command) {
    return all().mapToLong(a -> a.screen().runs().getOrDefault(command, 0)).sum();
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
