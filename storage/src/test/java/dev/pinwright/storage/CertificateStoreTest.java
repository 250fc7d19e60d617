package dev.pinwright.storage;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.storage.identity.CertificateStore;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

class CertificateStoreTest {

  @Test
  void aDeviceThatAsksOnTwoConnectionsAtOnceSpoilsTheLookForNobody() {
    try (Database database = TestDatabase.open()) {
      database.run(
          tx -> {
            for (String name : List.of("d1", "d2")) {
              TestDatabase.device(tx, name);
              tx.execute(
                  "insert into device_certificate (created_at, device_id, not_after, state, serial)"
                      + " values (now(), :d, now(), 'active', 'S-' || :d)",
                  Map.of("d", name));
            }
          });
      Map<String, CertificateStore.Known> known =
          database.look(
              look -> CertificateStore.known(look, List.of("S-d1", "S-d2", "S-d1", "none")));
      assertThat(known)
          .containsOnlyKeys("S-d1", "S-d2")
          .allSatisfy((serial, of) -> assertThat(serial).isEqualTo("S-" + of.id()));
    }
  }
}
