package dev.pinwright.service.live;

import java.util.Collection;

/** Wakes devices without an open socket through their platform's push service. */
@FunctionalInterface
public interface PushRelay {
  /** Pushes to those of the devices that have a subscription and no socket on any node. */
  void wake(Collection<String> deviceIds);
}
