package dev.pinwright.protocol.dm;

import dev.pinwright.core.tree.Leaf;
import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Element.Add;
import dev.pinwright.protocol.syncml.Element.Alert;
import dev.pinwright.protocol.syncml.Element.Atomic;
import dev.pinwright.protocol.syncml.Element.Delete;
import dev.pinwright.protocol.syncml.Element.Exec;
import dev.pinwright.protocol.syncml.Element.Get;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.protocol.syncml.Element.Replace;
import dev.pinwright.protocol.syncml.Element.Results;
import dev.pinwright.protocol.syncml.Element.Sequence;
import dev.pinwright.protocol.syncml.Element.Status;
import dev.pinwright.protocol.syncml.Message;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The device's end of one management session. Not thread-safe: a device has one session at a time.
 */
public final class DeviceSession {
  private static final Set<Integer> ASKING =
      Set.of(Dm.ALERT_SHOW, Dm.ALERT_CONFIRM, Dm.ALERT_CHOICE);

  private final DeviceSide device;
  private final String sessionId;
  private final String deviceUri;
  private final String serverUri;
  private final int maxMsgSize;
  private int msgId = 1;

  public DeviceSession(
      DeviceSide device, String sessionId, String deviceUri, String serverUri, int maxMsgSize) {
    this.device = device;
    this.sessionId = sessionId;
    this.deviceUri = deviceUri;
    this.serverUri = serverUri;
    this.maxMsgSize = maxMsgSize;
  }

  /** A generic alert to be sent in package 1. */
  public record Outstanding(String type, String data, Optional<String> correlator) {}

  /**
   * Package 1.
   *
   * @param woken whether the server asked for the session
   * @param devInfo leaves of {@code ./DevInfo} by name
   */
  public Message open(boolean woken, Map<String, String> devInfo, List<Outstanding> alerts) {
    List<Element> body = new ArrayList<>();
    int id = 1;
    body.add(
        new Alert(
            Integer.toString(id++),
            woken ? Dm.ALERT_SERVER_INITIATED : Dm.ALERT_CLIENT_INITIATED,
            null,
            List.of()));
    List<Item> leaves =
        devInfo.entrySet().stream()
            .map(e -> Item.told(Dm.DEV_INFO + e.getKey(), "chr", e.getValue()))
            .toList();
    body.add(new Replace(Integer.toString(id++), leaves));
    for (Outstanding o : alerts) {
      Item item = new Item(null, Dm.FACTS, "chr", o.type(), o.data(), false);
      body.add(
          new Alert(
              Integer.toString(id++),
              Dm.ALERT_GENERIC,
              o.correlator().orElse(null),
              List.of(item)));
    }
    return new Message(
        new Message.Header(sessionId, msgId, serverUri, deviceUri, maxMsgSize), body, true);
  }

  /** Carries out a server message and answers it; empty when the session is over. */
  public Optional<Message> next(Message server) {
    boolean work =
        server.body().stream().anyMatch(e -> !(e instanceof Status) && !(e instanceof Results));
    if (!work && server.last()) {
      return Optional.empty();
    }
    Answer answer = new Answer(server, ++msgId, maxMsgSize, Dm.OK);
    for (Element e : server.body()) {
      carryOut(e, server, answer);
    }
    if (!server.last()) {
      answer.askForMore();
    }
    return Optional.of(answer.build(true));
  }

  private void carryOut(Element e, Message server, Answer answer) {
    if (e instanceof Get get) {
      read(get, server, answer);
    } else if (e instanceof Atomic atomic) {
      atomically(atomic, answer);
    } else if (e instanceof Sequence sequence) {
      answer.status(sequence, Dm.OK);
      sequence.parts().forEach(p -> carryOut(p, server, answer));
    } else if (e instanceof Alert alert && !ASKING.contains(alert.code())) {
      answer.status(alert, Dm.OK);
    } else if (!(e instanceof Status) && !(e instanceof Results)) {
      answer.status(e, change(e));
    }
  }

  private void read(Get get, Message server, Answer answer) {
    List<Item> found = new ArrayList<>();
    for (Item item : get.items()) {
      String uri = String.valueOf(item.target());
      String plain = uri.contains("?") ? uri.substring(0, uri.indexOf('?')) : uri;
      device
          .read(plain)
          .forEach((path, leaf) -> found.add(Item.told(path, leaf.format(), leaf.value())));
    }
    answer.status(get, found.isEmpty() ? Dm.NOT_FOUND : Dm.OK);
    if (!found.isEmpty()) {
      String msgRef = Integer.toString(server.header().msgId());
      answer.add(id -> new Results(id, msgRef, get.cmdId(), found));
    }
  }

  private void atomically(Atomic atomic, Answer answer) {
    Object before = device.snapshot();
    int failed = -1;
    int code = Dm.OK;
    for (int i = 0; i < atomic.parts().size() && failed < 0; i++) {
      code = change(atomic.parts().get(i));
      failed = code >= 300 ? i : -1;
    }
    boolean restored = failed < 0 || device.restore(before);
    answer.status(atomic, failed < 0 ? Dm.OK : Dm.ATOMIC_FAILED);
    for (int i = 0; i < atomic.parts().size(); i++) {
      int partCode = Dm.OK;
      if (failed >= 0) {
        int undone = restored ? Dm.ROLLED_BACK : 516;
        partCode = i < failed ? undone : i == failed ? code : Dm.NOT_EXECUTED;
      }
      answer.status(atomic.parts().get(i), partCode);
    }
  }

  /** Carries out one changing command; the worst code of its items stands for all. */
  private int change(Element e) {
    if (e instanceof Add add) {
      return worst(add.items().stream().map(i -> put(i, false)).toList());
    }
    if (e instanceof Replace replace) {
      return worst(replace.items().stream().map(i -> put(i, true)).toList());
    }
    if (e instanceof Delete delete) {
      return worst(
          delete.items().stream().map(i -> device.delete(String.valueOf(i.target()))).toList());
    }
    if (e instanceof Exec exec) {
      return device.exec(
          String.valueOf(exec.item().target()), exec.item().data(), exec.correlator());
    }
    if (e instanceof Alert alert && ASKING.contains(alert.code())) {
      // the first item holds display options, the second the text (OMA DM Protocol 1.2, 10.2.1)
      String text = alert.items().size() > 1 ? alert.items().get(1).data() : null;
      if (text == null) {
        return 400;
      }
      return switch (alert.code()) {
        case Dm.ALERT_SHOW -> device.show(text, alert.correlator());
        case Dm.ALERT_CONFIRM -> device.confirm(text, alert.correlator());
        default ->
            device.choose(
                text,
                alert.items().stream().skip(2).map(i -> String.valueOf(i.data())).toList(),
                alert.correlator());
      };
    }
    return Dm.NOT_SUPPORTED;
  }

  private int put(Item item, boolean mayExist) {
    String format = item.format() == null ? "chr" : item.format();
    Leaf leaf = new Leaf(format, item.data() == null ? "" : item.data());
    return device.put(String.valueOf(item.target()), leaf, mayExist);
  }

  private static int worst(List<Integer> codes) {
    return codes.stream().max(Integer::compare).orElse(Dm.OK);
  }
}
