package dev.pinwright.protocol.syncml;

import java.util.List;
import org.jspecify.annotations.Nullable;

/** A protocol command element. {@code cmdId} is unique within its message. */
public sealed interface Element {
  String cmdId();

  /** The element's name, as {@code Status} repeats it. */
  default String name() {
    return getClass().getSimpleName();
  }

  /** {@code Alert}: {@code code} is the alert type, such as 1201. */
  record Alert(String cmdId, int code, @Nullable String correlator, List<Item> items)
      implements Element {
    public Alert {
      items = List.copyOf(items);
    }
  }

  /** {@code Get}. */
  record Get(String cmdId, List<Item> items) implements Element {
    public Get {
      items = List.copyOf(items);
    }
  }

  /** {@code Add}. */
  record Add(String cmdId, List<Item> items) implements Element {
    public Add {
      items = List.copyOf(items);
    }
  }

  /** {@code Replace}. */
  record Replace(String cmdId, List<Item> items) implements Element {
    public Replace {
      items = List.copyOf(items);
    }
  }

  /** {@code Delete}. */
  record Delete(String cmdId, List<Item> items) implements Element {
    public Delete {
      items = List.copyOf(items);
    }
  }

  /** {@code Exec}; the correlator comes back in the report of its outcome. */
  record Exec(String cmdId, @Nullable String correlator, Item item) implements Element {}

  /** {@code Atomic}: all of it or none. */
  record Atomic(String cmdId, List<Element> parts) implements Element {
    public Atomic {
      parts = List.copyOf(parts);
    }
  }

  /** {@code Sequence}: one after the other. */
  record Sequence(String cmdId, List<Element> parts) implements Element {
    public Sequence {
      parts = List.copyOf(parts);
    }
  }

  /** {@code Status} of one earlier command; {@code cmdRef} 0 is the header. */
  record Status(
      String cmdId,
      String msgRef,
      String cmdRef,
      String cmd,
      @Nullable String targetRef,
      @Nullable String sourceRef,
      int code,
      List<Item> items)
      implements Element {
    public Status {
      items = List.copyOf(items);
    }
  }

  /** {@code Results} of one {@code Get}. */
  record Results(String cmdId, @Nullable String msgRef, String cmdRef, List<Item> items)
      implements Element {
    public Results {
      items = List.copyOf(items);
    }
  }

  /** A command we read but never send or carry out, such as {@code Copy}. */
  record Other(String cmdId, String name) implements Element {}

  /**
   * An item.
   *
   * @param format DM format of the data: {@code chr}, {@code int}, {@code bool}, {@code node} …
   * @param type MIME type or alert type of the data
   */
  record Item(
      @Nullable String target,
      @Nullable String source,
      @Nullable String format,
      @Nullable String type,
      @Nullable String data,
      boolean moreData) {

    /** An item that names a node to act on. */
    public static Item at(String target) {
      return new Item(target, null, null, null, null, false);
    }

    /** An item that gives a node a value. */
    public static Item put(String target, String format, String data) {
      return new Item(target, null, format, "text/plain", data, false);
    }

    /** An item that tells a node's value. */
    public static Item told(String source, String format, String data) {
      return new Item(null, source, format, "text/plain", data, false);
    }

    /** An item of bare data. */
    public static Item data(String data) {
      return new Item(null, null, null, null, data, false);
    }
  }
}
