package dev.pinwright.protocol.gpx;

import dev.pinwright.core.device.Position;
import java.io.StringWriter;
import java.util.List;
import java.util.Locale;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;

/** Tracks in the GPS exchange format (GPX 1.1). */
public final class Tracks {
  private static final String NAMESPACE = "http://www.topografix.com/GPX/1/1";

  private Tracks() {}

  /**
   * A document with one track of one segment.
   *
   * @param points in the order they were gone
   */
  public static String gpx(String name, List<Position> points) {
    StringWriter out = new StringWriter();
    try {
      XMLStreamWriter xml = XMLOutputFactory.newFactory().createXMLStreamWriter(out);
      xml.writeStartDocument("UTF-8", "1.0");
      xml.writeStartElement("gpx");
      xml.writeDefaultNamespace(NAMESPACE);
      xml.writeAttribute("version", "1.1");
      xml.writeAttribute("creator", "Pinwright");
      xml.writeStartElement("trk");
      text(xml, "name", name);
      xml.writeStartElement("trkseg");
      for (Position p : points) {
        xml.writeStartElement("trkpt");
        xml.writeAttribute("lat", degrees(p.latitude()));
        xml.writeAttribute("lon", degrees(p.longitude()));
        text(xml, "time", p.at().toString());
        text(xml, "src", p.source().name().toLowerCase(Locale.ROOT));
        xml.writeEndElement();
      }
      xml.writeEndElement();
      xml.writeEndElement();
      xml.writeEndElement();
      xml.writeEndDocument();
      xml.close();
      return out.toString();
    } catch (XMLStreamException e) {
      throw new IllegalStateException(e);
    }
  }

  private static String degrees(double d) {
    return String.format(Locale.ROOT, "%.7f", d);
  }

  private static void text(XMLStreamWriter xml, String element, String text)
      throws XMLStreamException {
    xml.writeStartElement(element);
    xml.writeCharacters(text);
    xml.writeEndElement();
  }
}
