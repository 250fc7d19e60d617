package dev.pinwright.storage;

import dev.pinwright.core.Words;
import java.lang.reflect.Constructor;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.RecordComponent;
import java.lang.reflect.Type;
import java.sql.Timestamp;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.hibernate.query.TupleTransformer;
import org.jspecify.annotations.Nullable;

/**
 * Rows of a statement as records, by name: the column {@code last_seen} is the component {@code
 * lastSeen}. Enums are read from their words, arrays become lists, and an {@code Optional} takes a
 * null; a null for any other component is a fault of the statement and says which.
 */
final class Records<R extends Record> implements TupleTransformer<R> {
  private static final Map<Class<?>, Records<?>> KNOWN = new ConcurrentHashMap<>();

  private final Class<R> type;
  private final RecordComponent[] components;
  private final Constructor<R> constructor;
  private final Map<List<String>, int[]> places = new ConcurrentHashMap<>();

  private Records(Class<R> type) {
    this.type = type;
    components = type.getRecordComponents();
    try {
      constructor =
          type.getDeclaredConstructor(
              Arrays.stream(components).map(RecordComponent::getType).toArray(Class[]::new));
      constructor.setAccessible(true);
    } catch (NoSuchMethodException e) {
      throw new IllegalStateException(e);
    }
  }

  @SuppressWarnings("unchecked")
  static <R extends Record> Records<R> of(Class<R> type) {
    return (Records<R>) KNOWN.computeIfAbsent(type, t -> new Records<>((Class<R>) t));
  }

  @Override
  public R transformTuple(@Nullable Object[] tuple, @Nullable String[] aliases) {
    int[] columns = places.computeIfAbsent(Arrays.asList(aliases), this::places);
    Object[] values = new Object[components.length];
    for (int i = 0; i < components.length; i++) {
      values[i] = value(components[i], tuple[columns[i]]);
    }
    try {
      return constructor.newInstance(values);
    } catch (InvocationTargetException e) {
      throw e.getCause() instanceof RuntimeException r ? r : new IllegalStateException(e);
    } catch (ReflectiveOperationException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Where each component's column is among the columns of a statement. */
  private int[] places(List<String> aliases) {
    List<String> names = aliases.stream().map(a -> plain(String.valueOf(a))).toList();
    int[] found = new int[components.length];
    for (int i = 0; i < components.length; i++) {
      found[i] = names.indexOf(plain(components[i].getName()));
      if (found[i] < 0) {
        throw new IllegalStateException(
            type.getSimpleName() + " needs a column " + components[i].getName());
      }
    }
    return found;
  }

  private static String plain(String name) {
    return name.replace("_", "").toLowerCase(Locale.ROOT);
  }

  private Object value(RecordComponent c, @Nullable Object column) {
    if (c.getType() == Optional.class) {
      Type of = ((ParameterizedType) c.getGenericType()).getActualTypeArguments()[0];
      Class<?> inner = (Class<?>) (of instanceof ParameterizedType p ? p.getRawType() : of);
      return Optional.ofNullable(column == null ? null : read(inner, column));
    }
    if (column == null) {
      throw new IllegalStateException(type.getSimpleName() + "." + c.getName() + " is null");
    }
    return read(c.getType(), column);
  }

  /** A column's value as another type; see the class. */
  @SuppressWarnings({"unchecked", "rawtypes"})
  static Object read(Class<?> type, Object value) {
    if (type == long.class || type == Long.class) {
      return ((Number) value).longValue();
    }
    if (type == int.class || type == Integer.class) {
      return ((Number) value).intValue();
    }
    if (type == double.class || type == Double.class) {
      return ((Number) value).doubleValue();
    }
    if (type == Instant.class) {
      return instant(value);
    }
    if (type.isEnum()) {
      return Words.parse((Class<Enum>) type, (String) value);
    }
    if (type == List.class) {
      return List.of((Object[]) value);
    }
    return type == String.class ? value.toString() : value;
  }

  private static Instant instant(Object value) {
    if (value instanceof OffsetDateTime at) {
      return at.toInstant();
    }
    return value instanceof Timestamp at ? at.toInstant() : (Instant) value;
  }
}
