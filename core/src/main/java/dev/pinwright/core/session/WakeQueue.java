package dev.pinwright.core.session;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.Iterator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Devices that are to be woken, each once, in the order they came; but what concerns few goes
 * before what concerns many. A device that was woken is attended to until its session is over, at
 * most for {@link #PATIENCE}; while {@link #AT_ONCE} are, the many wait, so that a session of the
 * few has not many more than those beside it. Safe for use by several threads.
 */
public final class WakeQueue {
  /** Most devices that are few. */
  public static final int FEW = 20;

  /** Most devices that are attended to before more of the many are woken. */
  public static final int AT_ONCE = 40;

  /**
   * How long a device that was woken is waited for: it may be gone, or have its session with
   * another node, which nobody is told of here.
   */
  public static final Duration PATIENCE = Duration.ofSeconds(2);

  private final Set<String> few = new LinkedHashSet<>();
  private final Set<String> many = new LinkedHashSet<>();

  /** Until when those that were woken are waited for. */
  private final Map<String, Instant> woken = new HashMap<>();

  /** Adds a device on its own account. */
  public synchronized void add(String device) {
    many.remove(device);
    few.add(device);
  }

  /** Adds devices that are woken for one thing. */
  public void add(Collection<String> devices) {
    if (devices.size() > FEW) {
      addAmongMany(devices);
    } else {
      devices.forEach(this::add);
    }
  }

  /** Adds some of many devices that are woken for one thing. */
  public synchronized void addAmongMany(Collection<String> devices) {
    devices.stream().filter(d -> !few.contains(d)).forEach(many::add);
  }

  /** The session of a device is over, or nobody waits for it any more. */
  public synchronized void over(String device) {
    woken.remove(device);
  }

  /**
   * Takes those that are woken next.
   *
   * @param most how many at most
   */
  public synchronized List<String> next(int most, Instant now) {
    woken.values().removeIf(until -> !until.isAfter(now));
    List<String> out = new ArrayList<>();
    take(few, most, out);
    take(many, Math.min(most, AT_ONCE - woken.size()), out);
    out.forEach(device -> woken.put(device, now.plus(PATIENCE)));
    return out;
  }

  private static void take(Set<String> from, int most, List<String> out) {
    for (Iterator<String> i = from.iterator(); i.hasNext() && out.size() < most; ) {
      out.add(i.next());
      i.remove();
    }
  }
}
