package dev.pinwright.core.command;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.pinwright.core.Fault;
import dev.pinwright.core.access.Role;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.Ownership;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CommandFormTest {
  private static final CommandSpec UPDATE =
      new CommandSpec(
          "update-os",
          "Update OS",
          "",
          CommandSpec.Delivery.EXEC,
          "./Vendor/Pinwright/Operations/UpdateOs",
          List.of(
              new CommandSpec.Field("text", "Text", new ValueType.TextType(1, 9, true), true),
              new CommandSpec.Field("grace", "Grace", new ValueType.WholeType(0, 60, "min"), false),
              new CommandSpec.Field("hours", "Hours", new ValueType.HoursType(), false),
              new CommandSpec.Field("force", "Force", new ValueType.FlagType(), false)),
          true,
          CommandSpec.Danger.DISTURBS,
          "The device restarts.",
          "",
          Duration.ofHours(6),
          Role.HELPDESK,
          Set.of(Mode.values()),
          Set.of(Ownership.values()),
          Optional.empty());

  private static CommandForm read(Map<String, String> fields, String reason, Long minutes) {
    return CommandForm.read(UPDATE, fields, reason, Optional.ofNullable(minutes));
  }

  private static Map<String, String> with(String field, String text) {
    Map<String, String> fields = new HashMap<>(Map.of("text", "x"));
    fields.put(field, text);
    return fields;
  }

  private static void refused(ThrowingCallable reading, String pointer, String words) {
    assertThatThrownBy(reading)
        .isInstanceOfSatisfying(
            Fault.class,
            f -> {
              assertThat(f.pointer()).isEqualTo(pointer);
              assertThat(f.getMessage()).isEqualTo(words);
            });
  }

  @Test
  void whatIsFilledInTravelsAsTheTextOfItsLeaf() {
    CommandForm form =
        read(Map.of("text", " now ", "grace", "5", "hours", "", "force", "true"), " why ", null);
    assertThat(form.fields())
        .containsOnly(
            Map.entry("text", "now"), Map.entry("grace", "5"), Map.entry("force", "true"));
    assertThat(form.reason()).isEqualTo("why");
  }

  @Test
  void aCommandWaitsAsLongAsTheCatalogueSaysUnlessTheOrderSaysOtherwise() {
    assertThat(read(Map.of("text", "x"), "why", null).expiry()).isEqualTo(Duration.ofHours(6));
    assertThat(read(Map.of("text", "x"), "why", 90L).expiry()).isEqualTo(Duration.ofMinutes(90));
    for (long wrong : new long[] {0, -1, 129_601, Long.MAX_VALUE}) {
      refused(
          () -> read(Map.of("text", "x"), "why", wrong),
          "/expiresInMinutes",
          "A command waits from 1 minute to 90 days (129600 minutes).");
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          text  | much too long | Text has to be text of 1 to 9 characters.
          grace | 61            | Grace has to be a whole number from 0 to 60 min.
          grace | 05            | Grace has to be a whole number from 0 to 60 min.
          grace | soon          | Grace has to be a whole number from 0 to 60 min.
          hours | always        | Hours has to be times of the week, such as Mon-Fri 08:00-17:30; Sat 10:00-14:00.
          force | yes           | Force has to be true or false.
          pitch | 4             | Update OS has no field pitch.
          """)
  void aFieldThatIsWrongIsNamedWithWhatWouldBeRight(String field, String text, String words) {
    refused(() -> read(with(field, text), "why", null), "/fields/" + field, words);
  }

  @Test
  void whatIsMissingIsAskedForWhenItIsOrderedButMayStillComeWhenItIsRehearsed() {
    refused(() -> read(Map.of(), "why", null), "/fields/text", "Text has to be given.");
    refused(
        () -> read(Map.of("text", "x"), " ", null),
        "/reason",
        "Update OS needs a reason; it is recorded.");
    assertThat(CommandForm.begun(UPDATE, Map.of(), "", Optional.empty()).fields()).isEmpty();
    refused(
        () -> CommandForm.begun(UPDATE, Map.of("grace", "61"), "", Optional.empty()),
        "/fields/grace",
        "Grace has to be a whole number from 0 to 60 min.");
  }
}
