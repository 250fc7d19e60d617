package dev.pinwright.cli;

import dev.pinwright.client.model.TargetKind;
import dev.pinwright.client.model.TargetSpec;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;
import picocli.CommandLine.Option;

/** Options that say whom. */
class TargetOptions {
  @Option(names = "--everyone")
  boolean everyone;

  @Option(names = "--unit", description = "By code; all below it too.")
  @Nullable List<String> units;

  @Option(names = "--group")
  @Nullable List<String> groups;

  @Option(names = "--tag")
  @Nullable List<String> tags;

  @Option(names = "--person", description = "By name or login.")
  @Nullable List<String> people;

  @Option(names = "--device", description = "By name, serial, IMEI or id.")
  @Nullable List<String> devices;

  List<TargetSpec> specs(Context context) {
    return specs(context, everyone, units, groups, tags, people, devices);
  }

  private static List<TargetSpec> specs(
      Context context,
      boolean everyone,
      @Nullable List<String> units,
      @Nullable List<String> groups,
      @Nullable List<String> tags,
      @Nullable List<String> people,
      @Nullable List<String> devices) {
    List<TargetSpec> out = new ArrayList<>();
    if (everyone) {
      out.add(new TargetSpec().kind(TargetKind.EVERYONE));
    }
    add(out, TargetKind.UNIT, units, u -> context.unit(u).getId());
    add(out, TargetKind.GROUP, groups, g -> context.group(g).getId());
    add(out, TargetKind.TAG, tags, t -> t);
    add(out, TargetKind.PERSON, people, p -> context.person(p).getId());
    add(out, TargetKind.DEVICE, devices, d -> context.device(d).getId());
    return out;
  }

  private static void add(
      List<TargetSpec> out,
      TargetKind kind,
      @Nullable List<String> named,
      Function<String, String> ref) {
    if (named != null) {
      named.forEach(n -> out.add(new TargetSpec().kind(kind).ref(ref.apply(n))));
    }
  }

  /** The same as exclusions. */
  static final class Except {
    @Option(names = "--except-unit")
    @Nullable List<String> units;

    @Option(names = "--except-group")
    @Nullable List<String> groups;

    @Option(names = "--except-tag")
    @Nullable List<String> tags;

    @Option(names = "--except-person")
    @Nullable List<String> people;

    @Option(names = "--except-device")
    @Nullable List<String> devices;

    List<TargetSpec> specs(Context context) {
      return TargetOptions.specs(context, false, units, groups, tags, people, devices);
    }
  }
}
