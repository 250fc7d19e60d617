package dev.pinwright.service.work;

import dev.pinwright.core.Versioned;

/**
 * Things that are written by people one at a time and listed elsewhere.
 *
 * @param <T> a thing as shown
 * @param <D> a thing as written
 */
public interface Records<T extends Versioned, D> {
  /** Adds one; {@link Problem} 400 or 409 says why it cannot be. */
  T add(Caller caller, D draft);

  /** One of them; {@link Problem} 404 when there is none. */
  T get(Caller caller, String id);

  /** Rewrites one; {@link Problem} 412 when someone else changed it after {@code version}. */
  T change(Caller caller, String id, int version, D draft);

  /**
   * Deletes one; {@link Problem} 409 names what still needs it, 412 says that someone else changed
   * it after {@code version}.
   */
  void delete(Caller caller, String id, int version);
}
