package dev.pinwright.service.configuration;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.TextNode;
import dev.pinwright.core.Words;
import dev.pinwright.core.catalog.ValueType;
import dev.pinwright.core.configuration.Part;
import dev.pinwright.core.file.StoredFile;
import dev.pinwright.core.policy.ProfileKind;
import dev.pinwright.core.target.Target;
import dev.pinwright.service.compliance.Checks;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.shape.ProfileContent;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.device.DeviceStore;
import dev.pinwright.storage.file.FileStore;
import dev.pinwright.storage.row.ProfileRow;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** Writes groups, profiles, kits and checks. */
final class RulesWriting {
  private final Desk desk;
  private final Caller caller;
  private final Writing.Nouns nouns;
  private final Map<String, String> devices;

  RulesWriting(Desk desk) {
    this.desk = desk;
    caller = desk.act().caller();
    nouns = desk.nouns();
    devices = new DeviceStore(desk.act().tx()).withSerials(serials());
  }

  private Set<String> serials() {
    Set<String> serials = new TreeSet<>();
    for (Part part : List.of(Part.PROFILE, Part.KIT)) {
      desk.wanted()
          .of(part)
          .values()
          .forEach(
              p -> {
                Thing.OfProfile profile = (Thing.OfProfile) p.thing();
                for (List<String> list : List.of(profile.targets(), profile.exclusions())) {
                  list.stream()
                      .filter(t -> t.startsWith("device "))
                      .forEach(t -> serials.add(t.substring("device ".length())));
                }
              });
    }
    return serials;
  }

  void group(Thing.OfGroup g) {
    Groups.define(
        desk.act(),
        desk.id(g, Part.GROUP),
        new Groups.Draft(
            g.name(),
            g.rule(),
            Optional.of(g.inside().stream().map(i -> desk.id(Part.GROUP, i, "/inside")).toList()),
            Optional.empty(),
            Optional.empty()));
  }

  void check(Thing.OfCheck c) {
    nouns
        .checks()
        .define(
            desk.act(),
            desk.id(c, Part.CHECK),
            new Checks.Draft(
                c.name(),
                c.rule(),
                c.group().map(g -> desk.id(Part.GROUP, g, "/group")),
                c.advice(),
                Optional.ofNullable(c.ladder())
                    .map(l -> new Checks.Steps(l.grace(), l.holder(), l.house(), l.withhold())),
                Optional.empty(),
                Optional.empty()));
  }

  void profile(ProfileKind kind, Thing.OfProfile p) {
    Part part = kind == ProfileKind.KIT ? Part.KIT : Part.PROFILE;
    Optional<Thing.OfProfile> before = desk.now(part, p.key()).map(Thing.OfProfile.class::cast);
    boolean publish = p.state().equals(Thing.OfProfile.PUBLISHED);
    if (!publish && !p.state().equals(Thing.OfProfile.DRAFT)) {
      throw Problem.malformed("/state", "A state is published or draft.");
    }
    boolean published = before.filter(b -> b.state().equals(Thing.OfProfile.PUBLISHED)).isPresent();
    if (published && !publish) {
      throw Problem.conflict(
          "published",
          "It is published and cannot be a draft again; let it go to nobody, or delete it.");
    }
    if (published
        && before.get().describedAs(p).equals(p)
        && desk.load().given(part, p).isEmpty()) {
      draft(part, p, Optional.empty());
      return;
    }
    draft(part, p, Optional.of(settings(part, p)));
    if (publish) {
      nouns.publishing().put(desk.act(), desk.id(p, part).orElseThrow());
    }
  }

  /** Writes the draft; its description alone where there are no settings. */
  private void draft(Part part, Thing.OfProfile p, Optional<Map<String, JsonNode>> settings) {
    boolean whole = settings.isPresent();
    Profiles.Draft draft =
        new Profiles.Draft(
            Optional.of(p.name()),
            Optional.of(p.description().orElse("")),
            settings,
            Optional.of(targets(p, p.targets(), "/targets")).filter(t -> whole),
            Optional.of(targets(p, p.exclusions(), "/exclusions")).filter(t -> whole),
            Optional.of(new Profiles.WindowSpec(p.from(), p.until())).filter(w -> whole),
            Optional.of(part == Part.KIT ? ProfileKind.KIT : ProfileKind.PROFILE),
            Optional.of(parts(p)).filter(x -> whole));
    Optional<String> id = desk.id(p, part);
    if (id.isEmpty()) {
      desk.ids(part).put(p.key(), nouns.profiles().add(caller, draft).id());
      return;
    }
    desk.one(ProfileRow.class, id.get());
    Profiles.Detail there = nouns.profiles().get(caller, id.get());
    if (whole && there.draftChanged() && there.publishedVersion().isPresent()) {
      desk.leftOut().add("The draft of " + p.name() + " that nobody published is replaced.");
      there =
          nouns
              .profiles()
              .restore(caller, id.get(), there.version(), there.publishedVersion().get());
    }
    nouns.profiles().change(caller, id.get(), there.version(), draft);
  }

  private List<Profiles.PartSpec> parts(Thing.OfProfile p) {
    return p.parts().stream()
        .map(
            x ->
                new Profiles.PartSpec(
                    desk.id(Part.PROFILE, String.valueOf(x.profile()), "/parts"), x.whenInOrder()))
        .toList();
  }

  private Map<String, JsonNode> settings(Part part, Thing.OfProfile p) {
    Map<String, JsonNode> settings = new HashMap<>(p.settings());
    settings.replaceAll(
        (key, value) ->
            nouns.types().apply(key).filter(t -> t instanceof ValueType.FileType).isPresent()
                ? file(value)
                : value);
    p.secrets()
        .forEach(
            key ->
                settings.put(
                    key,
                    TextNode.valueOf(
                        desk.load().secret(part, p.name(), key).orElse(ProfileContent.MASK))));
    return settings;
  }

  /** A file by its name as the reference settings keep. */
  private JsonNode file(JsonNode named) {
    String name = named.asText();
    return Optional.ofNullable(desk.load().files().get(name))
        .or(() -> new FileStore(desk.act().tx()).byName(name).map(f -> f.id))
        .<JsonNode>map(id -> TextNode.valueOf(StoredFile.reference(id)))
        .orElse(named);
  }

  private List<Profiles.TargetSpec> targets(
      Thing.OfProfile p, List<String> written, String pointer) {
    List<Profiles.TargetSpec> targets = new ArrayList<>();
    for (String text : written) {
      int space = text.indexOf(' ');
      String kind = space < 0 ? text : text.substring(0, space);
      String name = space < 0 ? "" : text.substring(space + 1).strip();
      Target.Kind of = Problem.reading(pointer, () -> Words.parse(Target.Kind.class, kind));
      if (of == Target.Kind.DEVICE && !devices.containsKey(name)) {
        desk.leftOut()
            .add(
                p.name()
                    + " goes to the device "
                    + name
                    + ", which is not here; that is left out.");
        continue;
      }
      targets.add(
          new Profiles.TargetSpec(
              kind,
              switch (of) {
                case EVERYONE, TAG -> name;
                case UNIT -> desk.id(Part.UNIT, name, pointer);
                case GROUP -> desk.id(Part.GROUP, name, pointer);
                case PERSON -> desk.id(Part.PERSON, name, pointer);
                case DEVICE -> devices.get(name);
              }));
    }
    return targets;
  }
}
