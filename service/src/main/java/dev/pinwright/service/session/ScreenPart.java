package dev.pinwright.service.session;

import com.fasterxml.jackson.core.type.TypeReference;
import dev.pinwright.core.Words;
import dev.pinwright.core.command.CommandState;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.screen.Assist;
import dev.pinwright.core.screen.Screenshot;
import dev.pinwright.core.screen.Shows;
import dev.pinwright.service.acting.Commands;
import dev.pinwright.service.screen.Screenshots;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.usecase.Noun;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Json;
import dev.pinwright.storage.Tx;
import dev.pinwright.storage.acting.CommandStore;
import dev.pinwright.storage.acting.CommandStore.Queued;
import dev.pinwright.storage.row.DeviceRow;
import dev.pinwright.storage.screen.AssistStore;
import dev.pinwright.storage.screen.ScreenshotStore;
import java.util.Map;
import java.util.TreeMap;

/**
 * What a session has to do with screens: who asks to see one and how much of it, where a picture is
 * handed in or a screen opened, and that a picture was.
 */
final class ScreenPart {
  private static final String CONTENT = "/content/sha256/";
  private static final TypeReference<TreeMap<String, String>> TEXTS = new TypeReference<>() {};

  private final String base;
  private final Vault vault;

  ScreenPart(String base, Vault vault) {
    this.base = base;
    this.vault = vault;
  }

  /** Whether a command may go now: a screen is asked for once somebody is there to look. */
  static boolean ready(Tx tx, Queued q) {
    return !q.command().equals(Assist.COMMAND)
        || new AssistStore(tx).node(q.dispatchId()).isPresent();
  }

  /**
   * What a device is told besides what was filled in. How much is shown is said anew here: a device
   * that has become personal since the order shows no more than such a device ever does.
   */
  Map<String, String> told(Tx tx, DeviceRow device, Queued q) {
    boolean picture = q.command().equals(Screenshot.COMMAND);
    if (!picture && !q.command().equals(Assist.COMMAND)) {
      return Map.of();
    }
    Map<String, String> told = new TreeMap<>();
    Shows shows =
        Shows.of(Words.parse(Ownership.class, device.ownership), Json.read(q.fields(), TEXTS));
    told.put("shows", Words.of(shows));
    told.put("by", q.actor());
    told.put("why", q.reason());
    if (picture) {
      told.put("to", base + CONTENT);
      told.put("right", Screenshots.right(vault, q.id()));
    } else {
      String node = new AssistStore(tx).node(q.dispatchId()).orElse(base);
      told.put("address", node.replaceFirst("^https", "wss") + "/assist/" + q.dispatchId());
    }
    return told;
  }

  /** Pictures were handed in, the device says. */
  void heard(UseCases.Act act, DeviceRow device, Map<String, String> screenshots) {
    screenshots.forEach(
        (command, address) -> {
          Tx tx = act.tx();
          String digest = address.substring(address.lastIndexOf('/') + 1);
          boolean there =
              new CommandStore(tx).underWay(command, Screenshot.COMMAND, device.id).isPresent()
                  && new ScreenshotStore(tx).has(command, digest);
          Commands.step(
              tx,
              device.id,
              command,
              there ? CommandState.DONE : CommandState.FAILED,
              there ? "" : "the picture it speaks of was not handed in",
              act.now());
          act.touch(Noun.SCREENSHOT, Noun.DISPATCH);
        });
  }
}
