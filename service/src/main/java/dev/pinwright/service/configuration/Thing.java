package dev.pinwright.service.configuration;

import com.fasterxml.jackson.annotation.JsonIgnore;
import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.LongNode;
import dev.pinwright.core.Words;
import dev.pinwright.core.compliance.Ladder;
import dev.pinwright.core.configuration.Part;
import dev.pinwright.core.device.Mode;
import dev.pinwright.core.device.Ownership;
import dev.pinwright.core.enrollment.EnrollmentProfile;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.terms.HolderTerms;
import dev.pinwright.service.work.ManyLines;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/**
 * One thing as it is in a file. Others are named by what they are called, units by their code,
 * people by their login, devices by their serial number. What is absent is empty.
 */
@JsonInclude(JsonInclude.Include.NON_EMPTY)
interface Thing {
  /** What tells it from others of its part. */
  @JsonIgnore
  String key();

  /** Keys of the secrets it has, whose values are in no file. */
  default List<String> secrets() {
    return List.of();
  }

  /** The words a part of the configuration is read as. */
  static Class<? extends Thing> type(Part part) {
    return switch (part) {
      case ATTRIBUTE -> OfAttribute.class;
      case UNIT -> OfUnit.class;
      case SITE -> OfSite.class;
      case PERSON -> OfPerson.class;
      case TERMS -> OfTerms.class;
      case GROUP -> OfGroup.class;
      case ENROLLMENT_PROFILE -> OfEnrollment.class;
      case PROFILE, KIT -> OfProfile.class;
      case CHECK -> OfCheck.class;
    };
  }

  private static <T> List<T> list(@Nullable List<T> written) {
    return written == null ? List.of() : List.copyOf(written);
  }

  private static <T> Map<String, T> map(@Nullable Map<String, T> written) {
    return new TreeMap<>(written == null ? Map.of() : written);
  }

  private static String plain(@Nullable String written) {
    return written == null ? "" : written.strip();
  }

  /** A field of the organisation's own, on devices, people or units. */
  record OfAttribute(String name, String of, String type, List<String> choices) implements Thing {
    public OfAttribute {
      name = plain(name);
      of = plain(of);
      type = plain(type);
      choices = list(choices);
    }

    @Override
    public String key() {
      return of + " " + name;
    }
  }

  /** A unit, by its code. */
  record OfUnit(String code, String name, Optional<String> within, Map<String, String> attributes)
      implements Thing {
    public OfUnit {
      code = plain(code);
      attributes = map(attributes);
    }

    @Override
    public String key() {
      return code;
    }
  }

  /** A site, by its name; where it is in degrees, its outline as well-known text. */
  record OfSite(
      String name,
      Optional<String> address,
      Optional<Double> latitude,
      Optional<Double> longitude,
      Optional<String> outline,
      Optional<Sites.Large> largePackages)
      implements Thing {
    public OfSite {
      name = plain(name);
    }

    @Override
    public String key() {
      return name;
    }
  }

  /** Somebody, by their login; else their mail address, else their name. */
  record OfPerson(
      String name,
      Optional<String> login,
      Optional<String> mail,
      Optional<String> unit,
      Optional<String> site,
      Map<String, String> attributes)
      implements Thing {
    public OfPerson {
      name = plain(name);
      attributes = map(attributes);
    }

    @Override
    public String key() {
      return login.or(() -> mail).orElse(name);
    }
  }

  /** One version of the terms. Versions are added and never change. */
  record OfTerms(
      int version,
      String language,
      String title,
      @ManyLines String text,
      List<HolderTerms.Text> translations)
      implements Thing {
    public OfTerms {
      language = plain(language);
      translations = list(translations);
    }

    @Override
    public String key() {
      return String.valueOf(version);
    }
  }

  /** A group; its devices follow from a rule, or are picked and then in no file. */
  record OfGroup(String name, @ManyLines Optional<String> rule, List<String> inside)
      implements Thing {
    public OfGroup {
      name = plain(name);
      inside = list(inside);
    }

    @Override
    public String key() {
      return name;
    }
  }

  /** An enrollment profile. */
  record OfEnrollment(
      String name,
      String ownership,
      String mode,
      List<String> platforms,
      List<String> kinds,
      String signIn,
      List<String> secrets,
      Optional<String> directoryGroup,
      Optional<Integer> termsVersion,
      Map<String, String> minimumOs,
      @Nullable Boolean approval,
      @Nullable Boolean rosterOnly,
      String namePattern,
      @Nullable Boolean fillGaps,
      Optional<String> unit,
      Optional<String> site,
      List<String> groups,
      List<String> tags,
      @Nullable JsonNode firstRun,
      @Nullable JsonNode readyGate,
      @Nullable Boolean removable,
      @Nullable Boolean comesBack)
      implements Thing {
    /** The one secret it may have. */
    static final String PASSPHRASE = "passphrase";

    public OfEnrollment {
      name = plain(name);
      // what is not said is as where somebody writes one without saying it
      ownership = ownership == null ? Words.of(Ownership.CORPORATE) : ownership;
      boolean personal = ownership.equals(Words.of(Ownership.PERSONAL));
      mode = mode == null ? Words.of(personal ? Mode.WORK_PROFILE : Mode.STANDARD) : mode;
      signIn = signIn == null ? Words.of(EnrollmentProfile.SignIn.NONE) : signIn;
      approval = Boolean.TRUE.equals(approval);
      rosterOnly = Boolean.TRUE.equals(rosterOnly);
      fillGaps = Boolean.TRUE.equals(fillGaps);
      removable = removable == null ? personal : removable;
      comesBack = comesBack == null || comesBack;
      platforms = list(platforms);
      kinds = list(kinds);
      secrets = list(secrets);
      minimumOs = map(minimumOs);
      groups = list(groups);
      tags = list(tags);
    }

    @Override
    public String key() {
      return name;
    }
  }

  /**
   * A profile or a kit, as published; one that never was as a draft.
   *
   * @param state {@code published} or {@code draft}
   * @param settings by key; files by their name
   * @param secrets keys of settings whose values are in no file
   * @param targets such as {@code everyone} and {@code unit VM-GLA}
   * @param from when it begins; absent for at once
   * @param until when it is over; absent for never
   */
  record OfProfile(
      String name,
      Optional<String> description,
      String state,
      Map<String, JsonNode> settings,
      List<String> secrets,
      List<OfPart> parts,
      List<String> targets,
      List<String> exclusions,
      Optional<Instant> from,
      Optional<Instant> until)
      implements Thing {
    static final String PUBLISHED = "published";
    static final String DRAFT = "draft";

    public OfProfile {
      name = plain(name);
      settings = map(settings);
      settings.replaceAll(
          (key, v) ->
              v.canConvertToLong() && v.isIntegralNumber() ? LongNode.valueOf(v.longValue()) : v);
      secrets = list(secrets).stream().sorted().toList();
      parts = list(parts);
      state = plain(state);
      targets = list(targets).stream().sorted().toList();
      exclusions = list(exclusions).stream().sorted().toList();
    }

    @Override
    public String key() {
      return name;
    }

    /** This, called and described as another. */
    OfProfile describedAs(OfProfile other) {
      return new OfProfile(
          other.name,
          other.description,
          state,
          settings,
          secrets,
          parts,
          targets,
          exclusions,
          from,
          until);
    }
  }

  /** A profile that goes along with a kit. */
  record OfPart(String profile, boolean whenInOrder) {}

  /** A check, which finds devices by a rule or in a group. */
  record OfCheck(
      String name,
      String advice,
      @ManyLines Optional<String> rule,
      Optional<String> group,
      @Nullable Ladder ladder)
      implements Thing {
    public OfCheck {
      name = plain(name);
      ladder = ladder == null ? Ladder.USUAL : ladder;
    }

    @Override
    public String key() {
      return name;
    }
  }
}
