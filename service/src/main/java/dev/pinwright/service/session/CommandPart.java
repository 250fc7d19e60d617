package dev.pinwright.service.session;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.core.catalog.Catalog;
import dev.pinwright.core.catalog.CommandSpec;
import dev.pinwright.core.catalog.Wordings;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.command.DeviceAnswer;
import dev.pinwright.core.command.HolderAnswer;
import dev.pinwright.core.own.OwnDetails;
import dev.pinwright.core.own.Placeholders;
import dev.pinwright.core.tree.Leaf;
import dev.pinwright.core.wipe.WipeKind;
import dev.pinwright.protocol.dm.Answer;
import dev.pinwright.protocol.dm.Dm;
import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.service.acting.Commands;
import dev.pinwright.service.own.Selves;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.session.Conversation.Kind;
import dev.pinwright.service.session.Conversation.Sent;
import dev.pinwright.service.terms.HolderTerms;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.acting.CommandStore.Queued;
import dev.pinwright.storage.row.DeviceRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * How commands are said to a device: in its language, with what is its own filled in and what is
 * secret opened, each as the element its delivery asks for (OMA DM 1.2, SyncML representation).
 */
final class CommandPart {
  /** Most commands that are looked at for one message. */
  private static final int AT_ONCE = 20;

  private static final TypeReference<TreeMap<String, String>> TEXTS = new TypeReference<>() {};

  private final Catalog catalog;
  private final Selves selves;
  private final ScreenPart screens;
  private final Vault vault;

  CommandPart(Catalog catalog, Selves selves, ScreenPart screens, Vault vault) {
    this.catalog = catalog;
    this.selves = selves;
    this.screens = screens;
    this.vault = vault;
  }

  /** Sends commands, as many as fit; what does not is sent with the next message. */
  boolean next(
      Tx tx,
      DeviceRow device,
      Conversation c,
      Answer answer,
      int most,
      boolean before,
      Instant now) {
    boolean said = false;
    for (Queued q : new CommandStore(tx).queued(device.id, now, AT_ONCE)) {
      if (c.commands.contains(q.id()) || !ScreenPart.ready(tx, q)) {
        continue;
      }
      CommandSpec spec = catalog.command(q.command()).orElse(null);
      if (spec == null) {
        c.commands.add(q.id());
        Commands.step(
            tx, device.id, q.id(), CommandState.FAILED, "the catalogue no longer has it", now);
      } else if (spec.delivery() == CommandSpec.Delivery.READ) {
        c.commands.add(q.id());
        Commands.step(tx, device.id, q.id(), CommandState.DELIVERED, "", now);
        c.refreshing.add(q.id());
        c.factsWanted = true;
      } else {
        String asked = spec.delivery() == CommandSpec.Delivery.CONFIRM ? asked(tx, q, c) : "";
        boolean wipesWork = q.command().equals(WipeKind.WORK.command());
        if (wipesWork) {
          WipePart.askBefore(answer, q.id(), c);
        }
        Map<String, String> told = told(tx, device, c, spec, q);
        String id = answer.add(i -> element(i, spec, q, asked, told));
        boolean fits = answer.bytes() <= most;
        if (!fits) {
          answer.takeBack();
          if (wipesWork) {
            answer.takeBack();
          }
        }
        if (!fits && (said || before)) {
          return true;
        }
        c.commands.add(q.id());
        if (fits) {
          c.sent.put(id, Sent.of(Kind.COMMAND, q.id()));
          said = true;
        } else {
          DeviceAnswer large = DeviceAnswer.of(Dm.TOO_LARGE);
          Commands.step(tx, device.id, q.id(), large.state(), large.reason(), now);
        }
      }
    }
    return said;
  }

  /** What the holder is asked to accept, in the device's language. */
  private static String asked(Tx tx, Queued q, Conversation c) {
    String version = Json.tree(q.fields()).path("version").asText("");
    return Optional.of(version)
        .filter(v -> v.matches("\\d{1,6}"))
        .flatMap(v -> HolderTerms.read(tx, Integer.parseInt(v), List.of(c.language)))
        .map(t -> t.title() + " (version " + t.version() + ")\n\n" + t.text())
        .orElse("There is no version " + version + " of the terms.");
  }

  private String opened(String sealed) {
    return vault.open(Base64.getDecoder().decode(sealed));
  }

  /** What is said of a command: in the device's language, with what is its own filled in. */
  private Map<String, String> told(
      Tx tx, DeviceRow device, Conversation c, CommandSpec spec, Queued q) {
    Map<String, String> filled =
        spec.told(
            spec.secretsAs(Wordings.in(Json.read(q.fields(), TEXTS), c.language), this::opened));
    if (filled.values().stream().anyMatch(text -> !Placeholders.names(text).isEmpty())) {
      Map<String, Leaf> own = selves.wanted(tx, device.id).tree().leaves();
      filled.replaceAll(
          (key, text) ->
              spec.speaks(key)
                  ? Placeholders.fill(
                      text,
                      name -> Optional.ofNullable(own.get(OwnDetails.path(name))).map(Leaf::value))
                  : text);
    }
    filled.putAll(screens.told(tx, device, q));
    if (q.notInUse()) {
      filled.put("not-in-use", "true");
    }
    return filled;
  }

  private static Element element(
      String id, CommandSpec spec, Queued q, String asked, Map<String, String> told) {
    List<Item> items = new ArrayList<>();
    items.add(Item.data("MINDT=10"));
    switch (spec.delivery()) {
      case CONFIRM -> {
        items.add(Item.data(asked));
        return new Element.Alert(id, Dm.ALERT_CONFIRM, q.id(), items);
      }
      case ASK -> {
        List<String> choices = HolderAnswer.choices(told.getOrDefault("choices", ""));
        items.add(Item.data(told.getOrDefault("text", "")));
        choices.forEach(c -> items.add(Item.data(c)));
        int code = choices.isEmpty() ? Dm.ALERT_CONFIRM : Dm.ALERT_CHOICE;
        return new Element.Alert(id, code, q.id(), items);
      }
      case SHOW -> {
        items.add(Item.data(told.getOrDefault("text", "")));
        return new Element.Alert(id, Dm.ALERT_SHOW, q.id(), items);
      }
      default -> {
        Item item =
            told.isEmpty()
                ? Item.at(spec.path())
                : new Item(spec.path(), null, "chr", "application/json", Json.write(told), false);
        return new Element.Exec(id, q.id(), item);
      }
    }
  }
}
