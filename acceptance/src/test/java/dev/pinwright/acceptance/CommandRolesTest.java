package dev.pinwright.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.client.PinwrightClient;
import dev.pinwright.client.http.ApiException;
import dev.pinwright.client.model.CommandField;
import dev.pinwright.client.model.CommandKey;
import dev.pinwright.client.model.CommandSpec;
import dev.pinwright.client.model.DispatchOrder;
import java.util.EnumMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Which role may order which command: a row for every command there is. */
class CommandRolesTest {
  private static final List<String> ROLES = List.of("reader", "helpdesk", "operator", "owner");

  /** Those that not everybody who helps may order; all else is for a helpdesk. */
  private static final List<CommandKey> OF_OPERATORS =
      List.of(CommandKey.WIPE, CommandKey.WIPE_WORK, CommandKey.RELEASE, CommandKey.RUN_SCRIPT);

  private static final Map<String, String> FITTING =
      Map.of("passcode", "483920", "script", "sha256:" + "0".repeat(64));

  /** What an order that reaches nobody is answered with: whoever may not is told so before. */
  private static int answered(PinwrightClient by, CommandSpec spec) {
    Map<String, String> fields = new LinkedHashMap<>();
    for (CommandField f : spec.getFields()) {
      if (f.getRequired()) {
        fields.put(f.getKey(), FITTING.getOrDefault(f.getKey(), "1"));
      }
    }
    try {
      by.acting()
          .addDispatch(
              new DispatchOrder()
                  .command(spec.getKey())
                  .fields(fields)
                  .reason("drill")
                  .targets(List.of(Desk.tag("nobody"))),
              spec.getKey().getValue());
      return 201;
    } catch (ApiException e) {
      return e.getCode();
    }
  }

  @Test
  void everyCommandHasItsRow() throws Exception {
    try (Rig rig = new Rig()) {
      List<CommandSpec> commands = rig.client.catalogue().getCatalogue().getCommands();
      assertThat(commands)
          .extracting(CommandSpec::getKey)
          .containsExactlyInAnyOrder(CommandKey.values());
      Map<String, PinwrightClient> by = new LinkedHashMap<>();
      for (String role : ROLES) {
        by.put(role, rig.another("a" + role, role));
      }
      Map<CommandKey, List<Integer>> rows = new EnumMap<>(CommandKey.class);
      Map<CommandKey, List<Integer>> expected = new EnumMap<>(CommandKey.class);
      for (CommandSpec c : commands) {
        rows.put(c.getKey(), ROLES.stream().map(r -> answered(by.get(r), c)).toList());
        int help = OF_OPERATORS.contains(c.getKey()) ? 403 : 409;
        expected.put(c.getKey(), List.of(403, help, 409, 409));
      }
      assertThat(rows).isEqualTo(expected);
      assertThat(
              commands.stream()
                  .filter(c -> c.getRole() == CommandSpec.RoleEnum.OPERATOR)
                  .map(CommandSpec::getKey))
          .containsExactlyInAnyOrderElementsOf(OF_OPERATORS);
    }
  }
}
