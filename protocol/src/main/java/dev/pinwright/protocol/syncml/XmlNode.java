package dev.pinwright.protocol.syncml;

import com.fasterxml.aalto.stax.InputFactoryImpl;
import dev.pinwright.protocol.syncml.MalformedMessage.Fault;
import java.io.ByteArrayInputStream;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javax.xml.stream.Location;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;
import org.codehaus.stax2.XMLInputFactory2;
import org.jspecify.annotations.Nullable;

/** An element of a small, bounded XML document, without attributes. */
final class XmlNode {
  static final int MAX_DEPTH = 16;
  static final int MAX_ELEMENTS = 20_000;
  static final int MAX_ATTRIBUTES = 32;
  private static final XMLInputFactory FACTORY = factory();

  final String namespace;
  final String name;
  final List<XmlNode> children = new ArrayList<>(4);
  private final StringBuilder text = new StringBuilder();

  private XmlNode(String namespace, String name) {
    this.namespace = namespace;
    this.name = name;
  }

  private static XMLInputFactory factory() {
    InputFactoryImpl f = new InputFactoryImpl();
    f.setProperty(XMLInputFactory.SUPPORT_DTD, false);
    f.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
    f.setProperty(XMLInputFactory.IS_COALESCING, true);
    f.setProperty(XMLInputFactory.IS_REPLACING_ENTITY_REFERENCES, false);
    f.setProperty(XMLInputFactory2.P_LAZY_PARSING, false);
    return f;
  }

  /** Reads a document; DTDs, entities, depth and count are bounded. */
  static XmlNode read(byte[] document) throws MalformedMessage {
    try {
      XMLStreamReader in = FACTORY.createXMLStreamReader(new ByteArrayInputStream(document));
      try {
        return read(in);
      } finally {
        in.close();
      }
    } catch (XMLStreamException e) {
      String why = String.valueOf(e.getMessage()).lines().findFirst().orElse("");
      if (why.contains("Maximum")) {
        throw why.contains("Attribute") ? tooManyAttributes() : tooDeep();
      }
      if (why.contains("ndeclared general entity")) {
        throw new MalformedMessage(Fault.FORBIDDEN_XML, "entities are not allowed");
      }
      // bytes that are not even characters come without a place
      Optional<Location> at = Optional.ofNullable(e.getLocation());
      throw new MalformedMessage(
          Fault.NOT_XML,
          "not well-formed XML at line "
              + at.map(Location::getLineNumber).orElse(1)
              + ", column "
              + at.map(Location::getColumnNumber).orElse(1)
              + "; the message may be cut short");
    }
  }

  private static XmlNode read(XMLStreamReader in) throws XMLStreamException, MalformedMessage {
    List<XmlNode> open = new ArrayList<>();
    XmlNode root = null;
    int elements = 0;
    while (in.hasNext()) {
      switch (in.next()) {
        case XMLStreamConstants.DTD, XMLStreamConstants.ENTITY_REFERENCE ->
            throw new MalformedMessage(
                Fault.FORBIDDEN_XML, "document type declarations and entities are not allowed");
        case XMLStreamConstants.START_ELEMENT -> {
          if (++elements > MAX_ELEMENTS) {
            throw new MalformedMessage(
                Fault.TOO_LARGE, "more than " + MAX_ELEMENTS + " elements in one message");
          }
          String ns = in.getNamespaceURI();
          XmlNode node = new XmlNode(ns == null ? "" : ns, in.getLocalName());
          if (open.isEmpty()) {
            root = node;
          } else {
            open.get(open.size() - 1).children.add(node);
          }
          open.add(node);
          if (open.size() > MAX_DEPTH) {
            throw tooDeep();
          }
          if (in.getAttributeCount() > MAX_ATTRIBUTES) {
            throw tooManyAttributes();
          }
        }
        case XMLStreamConstants.END_ELEMENT -> open.remove(open.size() - 1);
        case XMLStreamConstants.CHARACTERS, XMLStreamConstants.CDATA -> {
          if (!open.isEmpty()) {
            open.get(open.size() - 1).text.append(in.getText());
          }
        }
        default -> {
          // comments, processing instructions and the end say nothing
        }
      }
    }
    if (root == null) {
      throw new MalformedMessage(Fault.NOT_XML, "the message is empty");
    }
    return root;
  }

  private static MalformedMessage tooDeep() {
    return new MalformedMessage(
        Fault.TOO_LARGE, "elements nested more than " + MAX_DEPTH + " deep");
  }

  private static MalformedMessage tooManyAttributes() {
    return new MalformedMessage(
        Fault.TOO_LARGE, "more than " + MAX_ATTRIBUTES + " attributes on one element");
  }

  String text() {
    return text.toString();
  }

  @Nullable XmlNode child(String childName) {
    for (XmlNode c : children) {
      if (c.name.equals(childName)) {
        return c;
      }
    }
    return null;
  }

  List<XmlNode> all(String childName) {
    return children.stream().filter(c -> c.name.equals(childName)).toList();
  }

  /** Text of a child, stripped, or null. */
  @Nullable String textOf(String childName) {
    XmlNode c = child(childName);
    return c == null ? null : c.text().strip();
  }

  /** The child, which has to be there. */
  XmlNode need(String childName) throws MalformedMessage {
    XmlNode c = child(childName);
    if (c == null) {
      throw new MalformedMessage(Fault.NOT_SYNCML, name + " without " + childName);
    }
    return c;
  }
}
