package dev.pinwright.sandbox.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.device.Position;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.join.JoinMessages;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/** Everything a device remembers over a restart. Guarded by the device that owns it. */
final class State {
  /** Where a device is between the box and the gallery wall. */
  enum Stage {
    NEW,
    /** Its maker's registrar is being asked where it belongs. */
    ASKING,
    OFFERED,
    JOINING,
    WAITING,
    REFUSED,
    JOINED,
    REMOVED
  }

  public String id = "";
  public String model = "";
  public String osVersion = "";
  public String serial = "";
  public @Nullable String imei;
  public String wifiAddress = "";
  public boolean automaticHolder;
  public long holderDelayMillis;

  public Stage stage = Stage.NEW;
  public String reason = "";
  public String problem = "";
  public @Nullable String link;

  /** Address and fingerprint of the server it is joining or has joined. */
  public String server = "";

  public String fingerprint = "";

  /** Whether it came by its maker's certificate. */
  public boolean handsFree;

  public @Nullable String login;
  public @Nullable String identityKeyPem;
  public @Nullable String identityPem;
  public String language = "en";

  /** Whether it says what cannot be when it asks to be let in. */
  public boolean garbled;

  public JoinMessages.@Nullable Offer offer;
  public @Nullable String secret;
  public @Nullable String commonName;
  public @Nullable String keyPem;
  public @Nullable String certificatePem;

  public TreeMap<String, String[]> policy = new TreeMap<>();

  /** Digests of the files it has fetched and found to be right. */
  public TreeSet<String> files = new TreeSet<>();

  /** Whom the certificates among them are of, by digest. */
  public TreeMap<String, String> certificates = new TreeMap<>();

  /** What it was told of itself. */
  public TreeMap<String, String[]> own = new TreeMap<>();

  /** Values that something on the device writes over what it is told, by path. */
  public TreeMap<String, String> meddled = new TreeMap<>();

  /** The key its disk opens with besides the passcode, and its number; none before it made one. */
  public String recoveryKey = "";

  public int recoveryNumber;

  /** The key as it is yet to be handed in, wrapped; and for whom it was wrapped last. */
  public String recoveryToTell = "";

  public String recoveryWrappedFor = "";

  /** Where it is; nowhere it knows of where it is null. */
  public @Nullable Place here;

  /** Where it was that is yet to be told, and when the last of it was that was. */
  public List<Place> trail = new ArrayList<>();

  public long trailTold;

  /** What is wrong with it: {@code unencrypted}, {@code tampered}, {@code unknown-sources}. */
  public TreeSet<String> faults = new TreeSet<>();

  /** What it was told of being in order, and why it is not, a reason a line. */
  public String order = "";

  public String orderReasons = "";

  public TreeSet<String> stubborn = new TreeSet<>();
  public LinkedHashMap<String, Integer> carriedOut = new LinkedHashMap<>();
  public List<Report> reports = new ArrayList<>();
  public int sessions;

  /** First-run screens that are still to be shown. */
  public List<String> firstRun = new ArrayList<>();

  /** What it was told of the ready gate last. */
  public String gate = "";

  public long updatingUntil;
  public String wallpaper = "";
  public String wifi = "";

  /** Its push resource, and whether it relies on it to save its battery. */
  public String pushToken = "";

  public boolean pushOnly;
  public String pushEndpoint = "";
  public boolean leaving;

  public @Nullable String passcode;
  public long passcodeAt;

  /** Since when a better passcode is asked for; 0 while the one it has is good. */
  public long passcodeAsked;

  /** Digests of the passcodes it had before, the latest first. */
  public List<String> earlierPasscodes = new ArrayList<>();

  public int wrongTries;

  /** Who is signed in to the laptop; nobody when there is none. */
  public @Nullable String signedIn;

  /** Until when it is out of its kiosk; in the past, or 0, when it is in. */
  public long kioskBackAt;

  /** The app of the kiosk that is open; empty on its home screen. */
  public String opened = "";

  /** The step whose exit code was taken last. */
  public long exitStep;

  /** Wrong exit codes, and until when no other is taken. */
  public int exitTries;

  public long exitTryAt;

  /** When its kiosk was left by a code, which is yet to be reported. */
  public List<String> kioskLefts = new ArrayList<>();

  /** System apps that were taken away. */
  public TreeSet<String> goneApps = new TreeSet<>();

  /** Apps that were installed, by id. */
  public TreeMap<String, App> apps = new TreeMap<>();

  /** Apps that are there and may not be opened. */
  public TreeSet<String> blockedApps = new TreeSet<>();

  /** What it was told of apps it is yet to be ordered to install, by node. */
  public TreeMap<String, TreeMap<String, String>> downloads = new TreeMap<>();

  /** Installations it was ordered, by correlator. */
  public LinkedHashMap<String, Job> jobs = new LinkedHashMap<>();

  /** How installations ended that is yet to be reported. */
  public List<AppReport> appReports = new ArrayList<>();

  /** What the holder may pick, as it was told, by path. */
  public TreeMap<String, String> shelf = new TreeMap<>();

  /** Ids of apps the holder picked, which is yet to be told. */
  public List<String> wishes = new ArrayList<>();

  public boolean locked;
  public String lockText = "";
  public String lockPhone = "";
  public boolean ringing;
  public String ringText = "";
  public String ringCorrelator = "";
  public List<Note> notes = new ArrayList<>();
  public List<Question> questions = new ArrayList<>();
  public List<Found> found = new ArrayList<>();

  /** Whether somebody is using it, and what it carries out once nobody is. */
  public boolean inUse;

  public List<Deferred> deferred = new ArrayList<>();

  /** Time zone its clock shows; that of the machine it is simulated on where it is empty. */
  public String zone = "";

  /** What its clock shows. */
  LocalDateTime clock() {
    return LocalDateTime.now(zoneId());
  }

  /** The time zone of its clock. */
  ZoneId zoneId() {
    return zone.isEmpty() ? ZoneId.systemDefault() : ZoneId.of(zone);
  }

  /** The name it was given by a cable; empty for none. */
  public String givenName = "";

  /** When somebody touched it last, in milliseconds; 0 before that counts. */
  public long touchedAt;

  public boolean lidClosed;

  /** Whether it was in its hours when it last looked, and whether it is off because they ended. */
  public boolean inHours;

  public boolean offByHours;

  /** The day it restarted by itself last. */
  public String restartedOn = "";

  /** The restart its scripts ran for last, as the moment it was over. */
  public long startedFor;

  /** How the scripts that run by themselves ended last, by entry. */
  public TreeMap<String, String> scriptEnds = new TreeMap<>();

  /** Documents a cable put on it: digests by title. */
  public TreeMap<String, String> documents = new TreeMap<>();

  /** Scripts it was told to run. */
  public List<ScriptRun> scripts = new ArrayList<>();

  /** Who asked to see its screen, by correlator, until that is answered and done. */
  public LinkedHashMap<String, ScreenAsk> screenAsks = new LinkedHashMap<>();

  /** What was typed into apps, by app. */
  public TreeMap<String, String> written = new TreeMap<>();

  /** Numbers of processes that were ended. */
  public TreeSet<Long> endedProcesses = new TreeSet<>();

  /** Messages that were read, by correlator, which is yet to be told. */
  public List<String> readToTell = new ArrayList<>();

  /** Whether it erases itself once it has told so. */
  public boolean erasing;

  /** The address and the root of the server it erased itself for, which outlast that. */
  public String erasedFor = "";

  public String erasedForRoot = "";

  /** The command that released it; empty where its holder ends management. */
  public String releasedBy = "";

  /** Number of the SIM that is in it; empty for its first one. */
  public String sim = "";

  /** What its SIM asks for, and whether fingerprint and face open nothing for now. */
  public boolean simLocked;

  public boolean biometricsOff;

  /** Whether it switches itself off once it has told so, and whether it is off. */
  public boolean goingOff;

  public boolean off;
  public boolean offline;
  public double battery = 87;
  public boolean charging;
  public long storageUsed;
  public long restartedUntil;
  public boolean factsChanged = true;
  public Map<String, Integer> runs = new TreeMap<>();

  /**
   * An app that was installed.
   *
   * @param sha256 of its package; empty for one the holder installed
   * @param signer SHA-256 of the key its package was signed with
   * @param config what it was told, JSON; empty for nothing
   * @param opens the page of the web it is; empty for one that is none
   */
  record App(
      String id,
      String name,
      String version,
      long code,
      boolean managed,
      long bytes,
      String source,
      String sha256,
      String signer,
      String config,
      String configDigest,
      boolean goesWithManagement,
      String opens) {
    App configured(String told, String digest, boolean goes) {
      return new App(
          id, name, version, code, true, bytes, source, sha256, signer, told, digest, goes, opens);
    }
  }

  /**
   * An installation that was ordered.
   *
   * @param opts {@code InstallOpts} as they came
   * @param asked whether the holder is asked first and has not answered
   */
  record Job(String correlator, String id, String name, String url, String opts, boolean asked) {
    Job allowed() {
      return new Job(correlator, id, name, url, opts, false);
    }
  }

  /** How an installation ended: a result code, and perhaps a sentence. */
  record AppReport(String correlator, String data) {}

  /** The end of an operation that is yet to be reported: of which kind, and what is said of it. */
  record Report(String type, String correlator, String data) {
    static Report of(String correlator, int code) {
      return new Report(Dm.TYPE_OPERATION, correlator, Integer.toString(code));
    }

    /** That a wipe begins (OMA LAWMO 1.0). */
    static Report ofWipe(String correlator) {
      return new Report(Dm.TYPE_LAWMO_DONE, correlator, "1200");
    }
  }

  /** Where it is, because it was asked; yet to be told. */
  record Found(String correlator, Place place) {}

  /** Where it was, at a moment in milliseconds; see {@link Position}. */
  record Place(long at, double latitude, double longitude, double accuracy, String source) {
    static Place of(Position p) {
      return new Place(
          p.at().toEpochMilli(),
          p.latitude(),
          p.longitude(),
          p.accuracy().orElse(0.0),
          Words.of(p.source()));
    }

    Place at(long moment) {
      return new Place(moment, latitude, longitude, accuracy, source);
    }

    Position position() {
      return new Position(
          Instant.ofEpochMilli(at),
          latitude,
          longitude,
          Optional.of(accuracy),
          Words.parse(Position.Source.class, source));
    }
  }

  /** What it was prepared with, as a cable keeps it. */
  record Backup(String wallpaper, Map<String, App> apps, Map<String, String> documents) {}

  /** An operation it carries out once nobody is using it. */
  record Deferred(String uri, TreeMap<String, String> fields, String correlator) {}

  /** A script to run: the digest of its file, and how many seconds it may take. */
  record ScriptRun(String correlator, String file, long mostSeconds) {}

  /**
   * Somebody asks to see its screen.
   *
   * @param live whether it is to be seen live; otherwise a picture of it is wanted
   * @param whole whether all of it is to be seen, or the organisation's apps alone
   * @param to where a picture is handed in or the screen is opened
   * @param right to hand a picture in
   * @param allowed whether the holder said yes
   */
  record ScreenAsk(
      String correlator,
      boolean live,
      String by,
      boolean whole,
      boolean taps,
      String to,
      String right,
      boolean allowed) {
    ScreenAsk allow() {
      return new ScreenAsk(correlator, live, by, whole, taps, to, right, true);
    }
  }

  /** Something the holder is asked: yes or no, or one of several choices. */
  record Question(String text, String correlator, List<String> choices) {
    /** One of yes and no. */
    Question(String text, String correlator) {
      this(text, correlator, List.of());
    }
  }

  /** A message shown to the holder. */
  record Note(String text, String at, boolean read, String correlator) {
    /** One of which nobody is told that it was read. */
    Note(String text, String at, boolean read) {
      this(text, at, read, "");
    }
  }
}
