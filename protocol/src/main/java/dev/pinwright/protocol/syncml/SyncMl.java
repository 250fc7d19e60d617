package dev.pinwright.protocol.syncml;

import com.fasterxml.aalto.stax.OutputFactoryImpl;
import dev.pinwright.protocol.syncml.Element.Add;
import dev.pinwright.protocol.syncml.Element.Alert;
import dev.pinwright.protocol.syncml.Element.Atomic;
import dev.pinwright.protocol.syncml.Element.Delete;
import dev.pinwright.protocol.syncml.Element.Exec;
import dev.pinwright.protocol.syncml.Element.Get;
import dev.pinwright.protocol.syncml.Element.Item;
import dev.pinwright.protocol.syncml.Element.Other;
import dev.pinwright.protocol.syncml.Element.Replace;
import dev.pinwright.protocol.syncml.Element.Results;
import dev.pinwright.protocol.syncml.Element.Sequence;
import dev.pinwright.protocol.syncml.Element.Status;
import dev.pinwright.protocol.syncml.MalformedMessage.Fault;
import java.io.ByteArrayOutputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.regex.Pattern;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;
import org.jspecify.annotations.Nullable;

/**
 * Reads and writes SyncML 1.2 XML (OMA-TS-SyncML-RepPro-V1_2). Written elements stand in the DTD's
 * order and nothing is used that WBXML could not carry: no attributes but the two namespaces, no
 * CDATA, no comments.
 */
public final class SyncMl {
  /** Media type of the XML form. */
  public static final String MEDIA_TYPE = "application/vnd.syncml.dm+xml";

  /** Bytes of the largest message read. */
  public static final int MAX_BYTES = 256 * 1024;

  private static final String NS = "SYNCML:SYNCML1.2";
  private static final String META = "syncml:metinf";
  private static final Set<String> NOT_CARRIED_OUT =
      Set.of("Copy", "Move", "Map", "Put", "Search", "Sync", "MapItem");
  private static final Pattern WHOLE = Pattern.compile("\\d{1,9}");
  private static final OutputFactoryImpl OUT = new OutputFactoryImpl();

  private SyncMl() {}

  /**
   * Reads a message.
   *
   * @throws MalformedMessage saying what is wrong
   */
  public static Message read(byte[] xml) throws MalformedMessage {
    if (xml.length > MAX_BYTES) {
      throw new MalformedMessage(
          Fault.TOO_LARGE, "a message has at most " + MAX_BYTES + " bytes, this has " + xml.length);
    }
    XmlNode root = XmlNode.read(xml);
    if (!root.name.equals("SyncML") || !root.namespace.equals(NS)) {
      throw new MalformedMessage(
          Fault.NOT_SYNCML, "the root element has to be SyncML in the namespace " + NS);
    }
    XmlNode hdr = root.need("SyncHdr");
    if (!"1.2".equals(hdr.textOf("VerDTD")) || !"DM/1.2".equals(hdr.textOf("VerProto"))) {
      throw new MalformedMessage(
          Fault.NOT_SYNCML, "only VerDTD 1.2 and VerProto DM/1.2 are spoken");
    }
    XmlNode meta = hdr.child("Meta");
    String max = meta == null ? null : meta.textOf("MaxMsgSize");
    Message.Header header =
        new Message.Header(
            bounded(hdr.need("SessionID").text().strip(), 16, "SessionID"),
            number(hdr.need("MsgID"), 1),
            hdr.need("Target").need("LocURI").text().strip(),
            hdr.need("Source").need("LocURI").text().strip(),
            max == null || !WHOLE.matcher(max).matches() ? 0 : Integer.parseInt(max));
    XmlNode body = root.need("SyncBody");
    List<Element> elements = new ArrayList<>();
    for (XmlNode n : body.children) {
      if (!n.name.equals("Final")) {
        elements.add(element(n));
      }
    }
    return new Message(header, elements, body.child("Final") != null);
  }

  private static String bounded(String text, int max, String what) throws MalformedMessage {
    if (text.isEmpty() || text.length() > max) {
      throw new MalformedMessage(Fault.NOT_SYNCML, what + " has 1 to " + max + " characters");
    }
    return text;
  }

  private static int number(XmlNode node, int least) throws MalformedMessage {
    String text = node.text().strip();
    if (!WHOLE.matcher(text).matches() || Integer.parseInt(text) < least) {
      throw new MalformedMessage(
          Fault.NOT_SYNCML, node.name + " has to be a whole number of at least " + least);
    }
    return Integer.parseInt(text);
  }

  private static Element element(XmlNode n) throws MalformedMessage {
    String cmdId = bounded(n.need("CmdID").text().strip(), 32, "CmdID");
    return switch (n.name) {
      case "Alert" ->
          new Alert(cmdId, number(n.need("Data"), 0), n.textOf("Correlator"), items(n, 0));
      case "Get" -> new Get(cmdId, items(n, 1));
      case "Add" -> new Add(cmdId, items(n, 1));
      case "Replace" -> new Replace(cmdId, items(n, 1));
      case "Delete" -> new Delete(cmdId, items(n, 1));
      case "Exec" -> new Exec(cmdId, n.textOf("Correlator"), items(n, 1).get(0));
      case "Atomic" -> new Atomic(cmdId, parts(n));
      case "Sequence" -> new Sequence(cmdId, parts(n));
      case "Status" ->
          new Status(
              cmdId,
              n.need("MsgRef").text().strip(),
              n.need("CmdRef").text().strip(),
              n.need("Cmd").text().strip(),
              n.textOf("TargetRef"),
              n.textOf("SourceRef"),
              number(n.need("Data"), 100),
              items(n, 0));
      case "Results" ->
          new Results(cmdId, n.textOf("MsgRef"), n.need("CmdRef").text().strip(), items(n, 0));
      default -> {
        if (NOT_CARRIED_OUT.contains(n.name)) {
          yield new Other(cmdId, n.name);
        }
        throw new MalformedMessage(Fault.NOT_SYNCML, "SyncBody holds an unknown element");
      }
    };
  }

  private static List<Element> parts(XmlNode n) throws MalformedMessage {
    List<Element> parts = new ArrayList<>();
    for (XmlNode c : n.children) {
      if (!Set.of("CmdID", "NoResp", "Meta").contains(c.name)) {
        parts.add(element(c));
      }
    }
    return parts;
  }

  private static List<Item> items(XmlNode n, int least) throws MalformedMessage {
    XmlNode shared = n.child("Meta");
    List<Item> items = new ArrayList<>();
    for (XmlNode i : n.all("Item")) {
      XmlNode own = i.child("Meta");
      XmlNode data = i.child("Data");
      items.add(
          new Item(
              uri(i.child("Target")),
              uri(i.child("Source")),
              meta("Format", own, shared),
              meta("Type", own, shared),
              data == null ? null : data.text(),
              i.child("MoreData") != null));
    }
    if (items.size() < least) {
      throw new MalformedMessage(Fault.NOT_SYNCML, n.name + " without Item");
    }
    return items;
  }

  private static @Nullable String uri(@Nullable XmlNode n) throws MalformedMessage {
    return n == null ? null : n.need("LocURI").text().strip();
  }

  private static @Nullable String meta(
      String name, @Nullable XmlNode own, @Nullable XmlNode shared) {
    String value = own == null ? null : own.textOf(name);
    return value != null || shared == null ? value : shared.textOf(name);
  }

  /** Writes a message as UTF-8 XML. */
  public static byte[] write(Message message) {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream(2048);
    try {
      XMLStreamWriter w = OUT.createXMLStreamWriter(bytes, "UTF-8");
      w.writeStartDocument("UTF-8", "1.0");
      w.writeStartElement("SyncML");
      w.writeDefaultNamespace(NS);
      w.writeStartElement("SyncHdr");
      text(w, "VerDTD", "1.2");
      text(w, "VerProto", "DM/1.2");
      text(w, "SessionID", message.header().sessionId());
      text(w, "MsgID", Integer.toString(message.header().msgId()));
      place(w, "Target", message.header().target());
      place(w, "Source", message.header().source());
      if (message.header().maxMsgSize() > 0) {
        w.writeStartElement("Meta");
        metaText(w, "MaxMsgSize", Integer.toString(message.header().maxMsgSize()));
        w.writeEndElement();
      }
      w.writeEndElement();
      w.writeStartElement("SyncBody");
      for (Element e : message.body()) {
        write(w, e);
      }
      if (message.last()) {
        w.writeEmptyElement("Final");
      }
      w.writeEndElement();
      w.writeEndElement();
      w.writeEndDocument();
      w.close();
    } catch (XMLStreamException e) {
      throw new IllegalStateException("a message could not be written", e);
    }
    return bytes.toByteArray();
  }

  private static void write(XMLStreamWriter w, Element e) throws XMLStreamException {
    w.writeStartElement(e.name());
    text(w, "CmdID", e.cmdId());
    if (e instanceof Alert a) {
      text(w, "Data", Integer.toString(a.code()));
      optional(w, "Correlator", a.correlator());
      items(w, a.items());
    } else if (e instanceof Exec x) {
      optional(w, "Correlator", x.correlator());
      items(w, List.of(x.item()));
    } else if (e instanceof Get g) {
      items(w, g.items());
    } else if (e instanceof Add a) {
      items(w, a.items());
    } else if (e instanceof Replace r) {
      items(w, r.items());
    } else if (e instanceof Delete d) {
      items(w, d.items());
    } else if (e instanceof Atomic a) {
      for (Element part : a.parts()) {
        write(w, part);
      }
    } else if (e instanceof Sequence s) {
      for (Element part : s.parts()) {
        write(w, part);
      }
    } else if (e instanceof Status s) {
      text(w, "MsgRef", s.msgRef());
      text(w, "CmdRef", s.cmdRef());
      text(w, "Cmd", s.cmd());
      optional(w, "TargetRef", s.targetRef());
      optional(w, "SourceRef", s.sourceRef());
      text(w, "Data", Integer.toString(s.code()));
      items(w, s.items());
    } else if (e instanceof Results r) {
      optional(w, "MsgRef", r.msgRef());
      text(w, "CmdRef", r.cmdRef());
      items(w, r.items());
    }
    w.writeEndElement();
  }

  private static void items(XMLStreamWriter w, List<Item> items) throws XMLStreamException {
    for (Item i : items) {
      w.writeStartElement("Item");
      if (i.target() != null) {
        place(w, "Target", i.target());
      }
      if (i.source() != null) {
        place(w, "Source", i.source());
      }
      if (i.format() != null || i.type() != null) {
        w.writeStartElement("Meta");
        if (i.format() != null) {
          metaText(w, "Format", i.format());
        }
        if (i.type() != null) {
          metaText(w, "Type", i.type());
        }
        w.writeEndElement();
      }
      optional(w, "Data", i.data());
      if (i.moreData()) {
        w.writeEmptyElement("MoreData");
      }
      w.writeEndElement();
    }
  }

  private static void place(XMLStreamWriter w, String name, String uri) throws XMLStreamException {
    w.writeStartElement(name);
    text(w, "LocURI", uri);
    w.writeEndElement();
  }

  private static void optional(XMLStreamWriter w, String name, @Nullable String text)
      throws XMLStreamException {
    if (text != null) {
      text(w, name, text);
    }
  }

  private static void text(XMLStreamWriter w, String name, String text) throws XMLStreamException {
    w.writeStartElement(name);
    w.writeCharacters(text);
    w.writeEndElement();
  }

  private static void metaText(XMLStreamWriter w, String name, String text)
      throws XMLStreamException {
    w.writeStartElement(name);
    w.writeDefaultNamespace(META);
    w.writeCharacters(text);
    w.writeEndElement();
  }
}
