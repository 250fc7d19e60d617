package dev.pinwright.core.session;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Iterator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;

/**
 * Devices that are to be woken, each once, in the order they came; but what concerns few goes
 * before what concerns many. Safe for use by several threads.
 */
public final class WakeQueue {
  /** Most devices that are few. */
  public static final int FEW = 20;

  private final Set<String> few = new LinkedHashSet<>();
  private final Set<String> many = new LinkedHashSet<>();

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

  /**
   * Takes those that are woken next.
   *
   * @param most how many at most
   * @param keepingUp whether those that were woken are attended to; while they are not, only what
   *     concerns few goes on
   */
  public synchronized List<String> next(int most, boolean keepingUp) {
    List<String> out = new ArrayList<>();
    take(few, most, out);
    if (keepingUp) {
      take(many, most, out);
    }
    return out;
  }

  private static void take(Set<String> from, int most, List<String> out) {
    for (Iterator<String> i = from.iterator(); i.hasNext() && out.size() < most; ) {
      out.add(i.next());
      i.remove();
    }
  }
}
