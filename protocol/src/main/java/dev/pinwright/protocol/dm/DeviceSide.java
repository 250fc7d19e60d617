package dev.pinwright.protocol.dm;

import dev.pinwright.core.tree.Leaf;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/** What a device offers to a session: its tree and its operations. Codes are DM status codes. */
public interface DeviceSide {
  /** Leaves at or below a LocURI; empty when there is no such node. */
  Map<String, Leaf> read(String uri);

  /** Puts a leaf; {@code mayExist} tells {@code Replace} from {@code Add}. */
  int put(String uri, Leaf leaf, boolean mayExist);

  /** Takes a leaf or subtree away. */
  int delete(String uri);

  /** Starts an operation. Answers again what it answered before when the correlator is known. */
  int exec(String uri, @Nullable String data, @Nullable String correlator);

  /** Shows a text to the holder. */
  int show(String text, @Nullable String correlator);

  /** Asks the holder yes or no; 202 when the answer is reported later. */
  int confirm(String text, @Nullable String correlator);

  /** Asks the holder for one of several choices; 202 when the answer is reported later. */
  int choose(String text, List<String> choices, @Nullable String correlator);

  /** Remembers the tree, for {@link #restore}. */
  Object snapshot();

  /** Makes the tree what it was at the snapshot; false when it cannot. */
  boolean restore(Object snapshot);
}
