package dev.pinwright.service.work;

import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.databind.BeanDescription;
import com.fasterxml.jackson.databind.DeserializationConfig;
import com.fasterxml.jackson.databind.DeserializationContext;
import com.fasterxml.jackson.databind.JavaType;
import com.fasterxml.jackson.databind.JsonDeserializer;
import com.fasterxml.jackson.databind.JsonMappingException;
import com.fasterxml.jackson.databind.JsonSerializer;
import com.fasterxml.jackson.databind.KeyDeserializer;
import com.fasterxml.jackson.databind.SerializationConfig;
import com.fasterxml.jackson.databind.SerializerProvider;
import com.fasterxml.jackson.databind.deser.BeanDeserializerModifier;
import com.fasterxml.jackson.databind.deser.std.StdDeserializer;
import com.fasterxml.jackson.databind.module.SimpleKeyDeserializers;
import com.fasterxml.jackson.databind.module.SimpleModule;
import com.fasterxml.jackson.databind.ser.BeanSerializerModifier;
import com.fasterxml.jackson.databind.ser.std.StdSerializer;
import com.fasterxml.jackson.databind.ser.std.ToStringSerializer;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.SettingValue;
import dev.pinwright.core.device.OsVersion;
import java.io.IOException;
import java.time.DayOfWeek;
import java.time.LocalTime;
import org.jspecify.annotations.Nullable;

/**
 * How core's own types read in JSON: enums, and days of the week, as their words; versions and
 * values as they are.
 */
final class CoreJson extends SimpleModule {
  CoreJson() {
    super("core");
    addSerializer(SettingValue.class, new Value());
    addSerializer(OsVersion.class, ToStringSerializer.instance);
    addSerializer(LocalTime.class, ToStringSerializer.instance);
    addKeySerializer(Enum.class, new WordAsKey());
    setKeyDeserializers(new KeysFromWords());
    setSerializerModifier(new WordsForEnums());
    setDeserializerModifier(new EnumsFromWords());
  }

  private static final class Value extends StdSerializer<SettingValue> {
    Value() {
      super(SettingValue.class);
    }

    @Override
    public void serialize(SettingValue value, JsonGenerator out, SerializerProvider provider)
        throws IOException {
      if (value instanceof SettingValue.Flag flag) {
        out.writeBoolean(flag.on());
      } else if (value instanceof SettingValue.Whole whole) {
        out.writeNumber(whole.number());
      } else if (value instanceof SettingValue.Items list) {
        out.writeStartArray();
        for (String item : list.items()) {
          out.writeString(item);
        }
        out.writeEndArray();
      } else {
        out.writeString(value.text());
      }
    }
  }

  private static final class WordsForEnums extends BeanSerializerModifier {
    @Override
    public JsonSerializer<?> modifyEnumSerializer(
        SerializationConfig config,
        JavaType type,
        BeanDescription description,
        JsonSerializer<?> serializer) {
      return isWord(type) ? new Word() : serializer;
    }
  }

  private static boolean isWord(JavaType type) {
    Class<?> raw = type.getRawClass();
    return raw == DayOfWeek.class || raw.getName().startsWith("dev.pinwright.core.");
  }

  private static final class EnumsFromWords extends BeanDeserializerModifier {
    @Override
    public JsonDeserializer<?> modifyEnumDeserializer(
        DeserializationConfig config,
        JavaType type,
        BeanDescription description,
        JsonDeserializer<?> deserializer) {
      return isWord(type) ? new Read(type.getRawClass()) : deserializer;
    }
  }

  /** Reads the word of a constant; the message of any other names the words there are. */
  private static final class Read extends StdDeserializer<Enum<?>> {
    Read(Class<?> type) {
      super(type);
    }

    @Override
    @SuppressWarnings({"unchecked", "rawtypes"})
    public Enum<?> deserialize(JsonParser in, DeserializationContext context) throws IOException {
      try {
        return Words.parse((Class<Enum>) handledType(), in.getText());
      } catch (IllegalArgumentException e) {
        throw new JsonMappingException(in, String.valueOf(e.getMessage()), e);
      }
    }
  }

  @SuppressWarnings("rawtypes")
  private static final class WordAsKey extends StdSerializer<Enum> {
    WordAsKey() {
      super(Enum.class);
    }

    @Override
    public void serialize(Enum value, JsonGenerator out, SerializerProvider provider)
        throws IOException {
      out.writeFieldName(Words.of(value));
    }
  }

  private static final class KeysFromWords extends SimpleKeyDeserializers {
    private static final long serialVersionUID = 1L;

    @Override
    @SuppressWarnings({"unchecked", "rawtypes"})
    public @Nullable KeyDeserializer findKeyDeserializer(
        JavaType type, DeserializationConfig config, BeanDescription description) {
      if (!type.isEnumType() || !isWord(type)) {
        return null;
      }
      return new KeyDeserializer() {
        @Override
        public Object deserializeKey(String key, DeserializationContext context) {
          return Words.parse((Class<Enum>) type.getRawClass(), key);
        }
      };
    }
  }

  private static final class Word extends StdSerializer<Enum<?>> {
    Word() {
      super(Enum.class, false);
    }

    @Override
    public void serialize(Enum<?> value, JsonGenerator out, SerializerProvider provider)
        throws IOException {
      out.writeString(Words.of(value));
    }
  }
}
