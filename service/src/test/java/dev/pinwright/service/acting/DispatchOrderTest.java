package dev.pinwright.service.acting;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.service.device.DeviceFilter;
import dev.pinwright.service.work.Json;
import dev.pinwright.service.work.Problem;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.assertj.core.api.AbstractThrowableAssert;
import org.junit.jupiter.api.Test;

/** What an order has to say before anything is looked up. */
class DispatchOrderTest {
  private static final Catalog CATALOG = Catalogue.load().catalog();
  private static final List<DispatchOrder.TargetSpec> EVERYONE =
      List.of(new DispatchOrder.TargetSpec("everyone", null));

  private static DispatchOrder order(String command, Map<String, String> fields, String reason) {
    return new DispatchOrder(
        command,
        Optional.of(fields),
        Optional.of(reason),
        Optional.of(EVERYONE),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty(),
        Optional.empty());
  }

  private static AbstractThrowableAssert<?, ? extends Throwable> refusal(DispatchOrder order) {
    return assertThatThrownBy(() -> order.check(CATALOG)).isInstanceOf(Problem.class);
  }

  @Test
  void aWholeOrderIsTakenWithItsTextsTrimmed() {
    DispatchOrder.Checked checked =
        order("lock", Map.of("text", " Please return me to Norhaven "), " missing since Sunday ")
            .check(CATALOG);
    assertThat(checked.form().fields()).containsEntry("text", "Please return me to Norhaven");
    assertThat(checked.form().reason()).isEqualTo("missing since Sunday");
    assertThat(checked.targets()).hasSize(1);
  }

  @Test
  void anUnknownCommandIsAnsweredWithTheKnownOnes() {
    refusal(order("explode", Map.of(), ""))
        .hasMessageContaining("explode")
        .hasMessageContaining("lock");
    refusal(order(null, Map.of(), "")).hasMessageContaining("There is no command");
  }

  @Test
  void fieldsAreThoseOfTheCommand() {
    refusal(order("lock", Map.of("colour", "red"), "why")).hasMessageContaining("no field colour");
    refusal(order("message", Map.of(), "why")).hasMessageContaining("has to be given");
    refusal(order("message", Map.of("text", " "), "why")).hasMessageContaining("has to be given");
    refusal(order("message", Map.of("text", "x".repeat(5000)), "why"))
        .hasMessageContaining("1 to 500 characters");
  }

  @Test
  void aReasonIsAskedForWhereTheCommandNeedsOne() {
    refusal(order("lock", Map.of(), " ")).hasMessageContaining("needs a reason");
    refusal(order("lock", Map.of(), "x".repeat(301))).hasMessageContaining("300 characters");
  }

  @Test
  void anOrderHasToSayWhichDevices() {
    DispatchOrder nobody =
        new DispatchOrder(
            "refresh",
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.of(List.of()),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty());
    refusal(nobody).hasMessageContaining("targets, serials, matching or again");
  }

  @Test
  void aListsFilterIsEnoughToSayWhich() {
    DeviceFilter.Written drifted =
        Json.request("{\"standing\":\"drifted\"}", DeviceFilter.Written.class);
    DispatchOrder order =
        new DispatchOrder(
            "refresh",
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.of(drifted),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty());
    assertThat(order.check(CATALOG).targets()).isEmpty();
  }
}
