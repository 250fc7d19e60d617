package dev.pinwright.protocol.dm;

import dev.pinwright.protocol.syncml.Element;
import dev.pinwright.protocol.syncml.Element.Alert;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.protocol.syncml.Element.Status;
import dev.pinwright.protocol.syncml.Message;
import dev.pinwright.protocol.syncml.SyncMl;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;

/**
 * A message being written in answer to another: statuses first, then commands, with command ids
 * counted from 1. Used by both ends.
 */
public final class Answer {
  private final Message request;
  private final int msgId;
  private final int maxMsgSize;
  private final List<Element> body = new ArrayList<>();
  private int nextCmdId = 1;

  /**
   * @param msgId the answer's own MsgID
   * @param maxMsgSize what we can take in one message
   * @param headerCode status of the request's header: 200 or 212
   */
  public Answer(Message request, int msgId, int maxMsgSize, int headerCode) {
    this.request = request;
    this.msgId = msgId;
    this.maxMsgSize = maxMsgSize;
    Message.Header h = request.header();
    body.add(
        new Status(
            cmdId(),
            Integer.toString(h.msgId()),
            "0",
            "SyncHdr",
            h.target(),
            h.source(),
            headerCode,
            List.of()));
  }

  private String cmdId() {
    return Integer.toString(nextCmdId++);
  }

  /** Answers a command of the request. */
  public void status(Element element, int code) {
    status(element, code, List.of());
  }

  /** Answers a command of the request, with data. */
  public void status(Element element, int code, List<Item> items) {
    body.add(
        new Status(
            cmdId(),
            Integer.toString(request.header().msgId()),
            element.cmdId(),
            element.name(),
            null,
            null,
            code,
            items));
  }

  /** Adds a command and returns its CmdID. The function may ask for further ids for parts. */
  public String add(Function<String, Element> command) {
    String id = cmdId();
    body.add(command.apply(id));
    return id;
  }

  /** Takes the command back that was added last. */
  public void takeBack() {
    body.remove(body.size() - 1);
  }

  /** Bytes of the message as it is now, with {@code Final}. */
  public int bytes() {
    return SyncMl.write(build(true)).length;
  }

  /** An id for a part of a command that is being added. */
  public String partId() {
    return cmdId();
  }

  /** Asks for the rest of the other side's package (alert 1222). */
  public void askForMore() {
    add(id -> new Alert(id, Dm.ALERT_NEXT_MESSAGE, null, List.of()));
  }

  /** Whether it asks nothing of the other side, so that the session is over with it. */
  public boolean asksNothing() {
    return body.stream().allMatch(Status.class::isInstance);
  }

  /** The message; {@code last} puts {@code Final} at its end. */
  public Message build(boolean last) {
    Message.Header h = request.header();
    return new Message(
        new Message.Header(h.sessionId(), msgId, h.source(), h.target(), maxMsgSize), body, last);
  }
}
