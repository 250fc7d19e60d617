package dev.pinwright.service.work;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.databind.BeanProperty;
import com.fasterxml.jackson.databind.DeserializationContext;
import com.fasterxml.jackson.databind.JsonDeserializer;
import com.fasterxml.jackson.databind.JsonMappingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.deser.ContextualDeserializer;
import com.fasterxml.jackson.databind.deser.std.StdScalarDeserializer;
import com.fasterxml.jackson.databind.module.SimpleModule;
import dev.pinwright.core.Text;
import java.io.IOException;

/** Lets every text of a request through {@link Text}, and takes nothing else for a text. */
final class RequestTexts extends SimpleModule {
  RequestTexts() {
    super("request texts");
    addDeserializer(String.class, new Gate(false));
  }

  /**
   * Holds the texts of a tree to the gate, where it is not read into a record.
   *
   * @throws IllegalArgumentException saying what is in it and where
   */
  static void check(JsonNode node) {
    if (node.isTextual()) {
      Text.lines(node.textValue());
    }
    node.properties().forEach(e -> Text.line(e.getKey()));
    node.forEach(RequestTexts::check);
  }

  private static final class Gate extends StdScalarDeserializer<String>
      implements ContextualDeserializer {
    private final boolean manyLines;

    Gate(boolean manyLines) {
      super(String.class);
      this.manyLines = manyLines;
    }

    @Override
    public JsonDeserializer<?> createContextual(
        DeserializationContext context, BeanProperty property) {
      boolean many = property != null && property.getAnnotation(ManyLines.class) != null;
      return many == manyLines ? this : new Gate(many);
    }

    @Override
    public String deserialize(JsonParser in, DeserializationContext context) throws IOException {
      if (!in.currentToken().isScalarValue()
          || in.currentToken().isNumeric()
          || in.currentToken().isBoolean()) {
        return (String) context.handleUnexpectedToken(String.class, in);
      }
      try {
        return manyLines ? Text.lines(in.getText()) : Text.line(in.getText());
      } catch (IllegalArgumentException e) {
        throw new JsonMappingException(in, String.valueOf(e.getMessage()), e);
      }
    }
  }
}
