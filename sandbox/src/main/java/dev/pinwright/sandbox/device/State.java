package dev.pinwright.sandbox.device;

import dev.pinwright.protocol.join.JoinMessages;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/** Everything a device remembers over a restart. Guarded by the device that owns it. */
final class State {
  /** Where a device is between the box and the gallery wall. */
  enum Stage {
    NEW,
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
  public JoinMessages.@Nullable Offer offer;
  public @Nullable String secret;
  public @Nullable String commonName;
  public @Nullable String keyPem;
  public @Nullable String certificatePem;

  public TreeMap<String, String[]> policy = new TreeMap<>();
  public TreeSet<String> stubborn = new TreeSet<>();
  public LinkedHashMap<String, Integer> carriedOut = new LinkedHashMap<>();
  public List<Report> reports = new ArrayList<>();
  public int sessions;

  public @Nullable String passcode;
  public boolean locked;
  public String lockText = "";
  public String lockPhone = "";
  public boolean ringing;
  public String ringText = "";
  public String ringCorrelator = "";
  public List<Note> notes = new ArrayList<>();
  public boolean offline;
  public double battery = 87;
  public boolean charging;
  public long storageUsed;
  public long restartedUntil;
  public boolean factsChanged = true;
  public Map<String, Integer> runs = new TreeMap<>();

  /** The end of an operation that is yet to be reported. */
  record Report(String correlator, int code) {}

  /** A message shown to the holder. */
  record Note(String text, String at, boolean read) {}
}
