package dev.pinwright.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatIllegalStateException;

import com.fasterxml.jackson.databind.ObjectMapper;
import dev.pinwright.core.Words;
import dev.pinwright.core.access.Role;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Every call of the contract, made by every role and by nobody. */
class RolesTest {

  @Test
  @Timeout(120)
  void everyCallIsAnsweredToWhomTheContractNamesAndToNobodyElse() throws Exception {
    List<String> table = new ArrayList<>();
    List<String> wrong = new ArrayList<>();
    try (House house = new House()) {
      for (Role role : Role.values()) {
        if (role != Role.OWNER) {
          house.account(Words.of(role));
        }
      }
      for (Contract.Operation o : Contract.read().operations()) {
        StringBuilder line = new StringBuilder("%-28s".formatted(o.id()));
        int stranger = call(house, "", o).status();
        if ((o.least().isPresent() || o.holders()) && stranger != 401) {
          wrong.add(o.id() + " answers " + stranger + " to nobody");
        }
        for (Role role : Role.values()) {
          House.Answer answer = call(house, Words.of(role), o);
          boolean may = o.least().map(role::covers).orElse(true);
          boolean refused = answer.status() == 403;
          if (may == refused || answer.status() == 401 && o.least().isPresent()) {
            wrong.add(o.id() + " answers " + answer.status() + " to " + Words.of(role));
          }
          if (answer.status() >= 500) {
            wrong.add(o.id() + " fails with " + answer.body());
          }
          line.append(" %-10s".formatted(may ? Words.of(role) : "-"));
        }
        table.add(line.toString().stripTrailing());
      }
    }
    table.forEach(System.out::println);
    assertThat(table).hasSizeGreaterThan(140);
    assertThat(wrong).isEmpty();
  }

  private static House.Answer call(House house, String role, Contract.Operation o) {
    String path = o.path().replaceAll("\\{[^}]*}", "none");
    String method = o.method().toUpperCase(Locale.ROOT);
    if (o.id().equals("signOut") && !role.isEmpty()) {
      return house.with(house.signIn(role, House.PASSWORD), method, path, "{}");
    }
    return house.call(role, method, path, "{}");
  }

  @Test
  void aCallWithoutADeclaredRoleDoesNotStart() throws Exception {
    String call = "{\"paths\":{\"/devices\":{\"get\":{\"operationId\":\"listDevices\"%s}}}}";
    ObjectMapper json = new ObjectMapper();
    assertThatIllegalStateException()
        .isThrownBy(() -> new Contract(json.readTree(call.formatted(""))))
        .withMessageContaining("listDevices")
        .withMessageContaining("owner, operator, helpdesk, reader or nobody");
    Contract right = new Contract(json.readTree(call.formatted(",\"x-least-role\":\"reader\"")));
    assertThat(right.at("GET", "/devices").least()).contains(Role.READER);
    assertThatIllegalStateException()
        .isThrownBy(() -> right.at("POST", "/devices"))
        .withMessageContaining("the contract has no POST /devices");
  }
}
