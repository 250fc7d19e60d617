package dev.pinwright.protocol.syncml;

import java.util.List;

/**
 * One SyncML message (OMA SyncML Representation Protocol 1.2, section 6).
 *
 * @param body commands in order
 * @param last whether {@code Final} is there: the last message of its package
 */
public record Message(Header header, List<Element> body, boolean last) {
  public Message {
    body = List.copyOf(body);
  }

  /**
   * The message header.
   *
   * @param sessionId as the device chose it, 1 to 16 characters
   * @param msgId counts from 1 within the session
   * @param target LocURI of the receiver
   * @param source LocURI of the sender
   * @param maxMsgSize bytes the sender can take in one message; 0 when not said
   */
  public record Header(String sessionId, int msgId, String target, String source, int maxMsgSize) {}
}
