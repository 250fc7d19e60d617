package dev.pinwright.core.bench;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.Fault;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** What the cable of a bench does, and to what. */
class CableWorkTest {
  private static final Optional<String> ELSEWHERE = Optional.of("VM-HAR kiosk 003");

  @Test
  void whatIsSaidBesidesHasToFit() {
    assertThat(CableWork.RENAME.read("  VM-HAR kiosk 011 ")).isEqualTo("VM-HAR kiosk 011");
    assertThat(CableWork.UPDATE_OS.read("7.2.1")).isEqualTo("7.2.1");
    assertThat(CableWork.ERASE.read(" ")).isEmpty();
    assertThat(CableWork.DOCUMENT.read("sha256:" + "a".repeat(64))).startsWith("sha256:");
    CableWork[] works = {
      CableWork.ERASE, CableWork.RENAME, CableWork.UPDATE_OS, CableWork.DOCUMENT, CableWork.APP
    };
    String[] wrong = {"now", "", "seven", "house-rules.pdf", " "};
    for (int i = 0; i < works.length; i++) {
      CableWork work = works[i];
      String said = wrong[i];
      assertThatThrownBy(() -> work.read(said)).as(work + " " + said).isInstanceOf(Fault.class);
    }
  }

  @Test
  void aPersonalDeviceIsLeftAloneAndAManagedOneIsNotErasedUnasked() {
    for (CableWork work : CableWork.values()) {
      assertThat(work.objection(Optional.empty(), true, true)).as(work.name()).isPresent();
      assertThat(work.objection(Optional.empty(), false, false)).as(work.name()).isEmpty();
    }
    assertThat(CableWork.ERASE.objection(ELSEWHERE, true, false).orElseThrow())
        .contains("VM-HAR kiosk 003", "may be erased");
    assertThat(CableWork.ERASE.objection(Optional.empty(), true, false)).isEmpty();
    assertThat(CableWork.RENAME.objection(ELSEWHERE, true, false)).isPresent();
    assertThat(CableWork.CLEAR_PASSCODE.objection(ELSEWHERE, true, false)).isEmpty();
  }
}
