package dev.pinwright.service.access;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.access.Role;
import dev.pinwright.service.UseCasesOn;
import dev.pinwright.service.access.ListLayouts.Layout;
import dev.pinwright.service.access.ListLayouts.SavedView;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.TestDatabase;
import java.time.Clock;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** How an account likes its lists. */
class ListLayoutsTest {
  private static final SavedView GLASS = new SavedView("Glasshouse kiosks", "?tag=kiosk");
  private static final Layout WIDE =
      new Layout(
          List.of("battery"), Map.of("name", 320), List.of("name", "serial"), List.of(GLASS));
  private static Database database;
  private static ListLayouts layouts;

  @BeforeAll
  static void open() {
    database = TestDatabase.open();
    layouts = new ListLayouts(UseCasesOn.database(database, Clock.systemUTC()));
    for (String id : List.of("ines", "bo")) {
      database.run(
          tx ->
              tx.execute(
                  "insert into account values (:id, :id, :id, 'reader', 'x', now())",
                  Map.of("id", id)));
    }
  }

  @AfterAll
  static void close() {
    database.close();
  }

  private static Caller caller(String id) {
    return new Caller(id, id, Role.READER);
  }

  @Test
  void aLayoutIsKeptForItsAccountAlone() {
    layouts.keep(caller("ines"), "devices", WIDE);
    assertThat(layouts.all(caller("ines"))).containsEntry("devices", WIDE);
    assertThat(layouts.all(caller("bo"))).doesNotContainKey("devices");
  }

  @Test
  void theLastLayoutCounts() {
    Layout plain = new Layout(List.of(), Map.of(), List.of(), List.of());
    layouts.keep(caller("bo"), "arrivals", WIDE);
    layouts.keep(caller("bo"), "arrivals", plain);
    assertThat(layouts.all(caller("bo"))).containsEntry("arrivals", plain);
  }

  @Test
  void whatIsOutOfBoundsIsNamed() {
    Caller ines = caller("ines");
    assertThatThrownBy(() -> layouts.keep(ines, "Devices!", WIDE))
        .isInstanceOf(Problem.class)
        .hasMessageContaining("small letters and hyphens");
    List<SavedView> many = Collections.nCopies(61, GLASS);
    assertThatThrownBy(
            () -> layouts.keep(ines, "devices", new Layout(List.of(), Map.of(), List.of(), many)))
        .hasMessageContaining("at most 60 views");
    List<SavedView> unnamed = List.of(new SavedView("", "?tag=kiosk"));
    assertThatThrownBy(
            () ->
                layouts.keep(ines, "devices", new Layout(List.of(), Map.of(), List.of(), unnamed)))
        .hasMessageContaining("1 to 60 characters");
    List<SavedView> endless = List.of(new SavedView("Long", "?" + "q".repeat(1000)));
    assertThatThrownBy(
            () ->
                layouts.keep(ines, "devices", new Layout(List.of(), Map.of(), List.of(), endless)))
        .hasMessageContaining("at most 1000 characters");
  }
}
