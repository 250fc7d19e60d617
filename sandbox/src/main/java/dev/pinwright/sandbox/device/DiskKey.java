package dev.pinwright.sandbox.device;

import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.own.OwnDetails;
import dev.pinwright.protocol.pki.Pki;
import dev.pinwright.protocol.pki.WrappedKeys;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * The key the disk of a laptop opens with besides its passcode. Guarded by the device it belongs
 * to.
 */
record DiskKey(State state) {
  private static final SecureRandom RANDOM = new SecureRandom();
  private static final int GROUPS = 8;
  private static final int GROUP = 1_000_000;

  /**
   * Makes the key and wraps it, where it is told to and has not; another one when its number rose.
   *
   * @return whether it is yet to be handed in
   */
  boolean keep() {
    String @Nullable [] wrap = state.own.get(OwnDetails.path(OwnDetails.RECOVERY_KEY_WRAP));
    String @Nullable [] escrow = state.policy.get(Catalog.POLICY_ROOT + "/encryption/escrow");
    boolean wanted = wrap != null && escrow != null && "true".equals(escrow[1]);
    if (wanted && !wrap[1].equals(state.recoveryWrappedFor)) {
      String[] parts = wrap[1].split(" ", 2);
      int number = Integer.parseInt(parts[0]);
      if (state.recoveryKey.isEmpty() || number > state.recoveryNumber) {
        state.recoveryKey =
            RANDOM
                .ints(GROUPS, 0, GROUP)
                .mapToObj("%06d"::formatted)
                .collect(Collectors.joining("-"));
        state.recoveryNumber = number;
      }
      byte[] wrapped =
          WrappedKeys.wrap(
              state.recoveryKey, Pki.certificate(Base64.getDecoder().decode(parts[1])));
      state.recoveryToTell = state.recoveryNumber + " " + Pki.base64(wrapped);
      state.recoveryWrappedFor = wrap[1];
    }
    return !state.recoveryToTell.isEmpty();
  }
}
