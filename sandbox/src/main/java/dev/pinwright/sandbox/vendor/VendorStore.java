package dev.pinwright.sandbox.vendor;

import dev.pinwright.core.Sha256;
import dev.pinwright.core.enrollment.InvitationCode;
import dev.pinwright.core.license.CodeJudgement;
import dev.pinwright.core.license.Licensing;
import dev.pinwright.protocol.pack.Manifest;
import dev.pinwright.protocol.pack.PackageFile;
import dev.pinwright.protocol.pack.PackageRefused;
import dev.pinwright.sandbox.file.PrivateFiles;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * The store of a platform's vendor: apps with their versions and prices, the licenses organisations
 * bought, and in whose names they are. Every method may be called from any thread.
 */
public final class VendorStore {
  private static final int MOST_FOUND = 50;
  private static final SecureRandom RANDOM = new SecureRandom();

  /**
   * Where the store sells, by two letters of ISO 3166-1 that are nobody's; where its customers are
   * comes first.
   */
  public static final Map<String, String> COUNTRIES = new LinkedHashMap<>();

  static {
    COUNTRIES.put("XV", "Vellmar");
    COUNTRIES.put("XA", "Ander Isles");
    COUNTRIES.put("XO", "Orre Coast");
  }

  private final Book book;
  private final Path packages;

  /** What a store remembers over a restart. */
  static final class Book {
    public TreeMap<String, Offer> offers = new TreeMap<>();
    public TreeMap<String, Stock> stock = new TreeMap<>();
    public TreeMap<String, Code> codes = new TreeMap<>();
  }

  /** A code of the older kind, worth one license. */
  record Code(String app, boolean spent) {}

  /**
   * An app on offer.
   *
   * @param prices by country, in words; where one is missing it is not sold
   * @param icon PNG, base64; empty for none
   */
  public record Offer(
      String id,
      String name,
      String publisher,
      String summary,
      String category,
      Licensing licensing,
      TreeMap<String, String> prices,
      String icon,
      List<Version> versions) {}

  /** One version of an app. */
  public record Version(
      long code,
      String version,
      TreeMap<String, String> lowestOs,
      List<String> permissions,
      long size,
      long installed,
      String notes,
      @Nullable String configuration,
      String sha256) {}

  /** Licenses an account bought of an app for a place, and in whose names they are. */
  public record Stock(
      String account, String app, String place, long owned, TreeSet<String> names) {}

  VendorStore(Book book, Path packages) {
    this.book = book;
    this.packages = packages;
    try {
      PrivateFiles.directory(packages);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  // ---- publishers ------------------------------------------------------------------------------

  /**
   * A publisher puts an app on sale.
   *
   * @param content a package
   * @param prices by country, in words
   * @throws IllegalArgumentException when it is no package
   */
  public synchronized Offer publish(
      byte[] content, Licensing licensing, Map<String, String> prices) {
    return put(content, Optional.of(licensing), prices);
  }

  /**
   * A publisher puts another version of an app on sale.
   *
   * @param content a package
   * @throws IllegalArgumentException when it is none, or of an app the store does not have
   */
  public synchronized Offer update(byte[] content) {
    return put(content, Optional.empty(), Map.of());
  }

  private Offer put(byte[] content, Optional<Licensing> licensing, Map<String, String> prices) {
    String sha256 = Sha256.hex(content);
    Path file = packages.resolve(sha256);
    PackageFile read;
    try {
      Files.write(file, content);
      read = PackageFile.read(file);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (PackageRefused e) {
      throw new IllegalArgumentException(e.getMessage(), e);
    }
    Manifest m = read.manifest();
    Offer before = licensing.isPresent() ? book.offers.get(m.id()) : offer(m.id());
    List<Version> versions = new ArrayList<>(before == null ? List.of() : before.versions());
    versions.removeIf(v -> v.code() >= m.versionCode());
    TreeMap<String, String> lowest = new TreeMap<>();
    m.lowest().forEach((platform, os) -> lowest.put(platform, os.toString()));
    versions.add(
        0,
        new Version(
            m.versionCode(),
            m.version(),
            lowest,
            m.permissions(),
            content.length,
            m.bytes(),
            m.notes(),
            m.configuration().orElse(null),
            sha256));
    Offer offer =
        new Offer(
            m.id(),
            m.name(),
            m.publisher(),
            m.summary(),
            m.category(),
            licensing.orElseGet(() -> offer(m.id()).licensing()),
            licensing.isPresent() ? new TreeMap<>(prices) : offer(m.id()).prices(),
            read.icon().map(i -> Base64.getEncoder().encodeToString(i)).orElse(""),
            versions);
    book.offers.put(m.id(), offer);
    return offer;
  }

  /** A publisher takes an app from sale; those who have licenses keep them. */
  public synchronized void withdraw(String id) {
    Offer o = offer(id);
    book.offers.put(
        id,
        new Offer(
            o.id(),
            o.name(),
            o.publisher(),
            o.summary(),
            o.category(),
            o.licensing(),
            new TreeMap<>(),
            o.icon(),
            o.versions()));
  }

  private Offer offer(String id) {
    return Optional.ofNullable(book.offers.get(id))
        .orElseThrow(() -> new IllegalArgumentException("the store has no app " + id));
  }

  // ---- what is on offer ------------------------------------------------------------------------

  /** Everything, by name. */
  public synchronized List<Offer> offers() {
    return book.offers.values().stream()
        .sorted(Comparator.comparing(o -> o.name().toLowerCase(Locale.ROOT)))
        .toList();
  }

  /** Apps that have these words, those sold in a country first. */
  synchronized List<Offer> search(String words, String country) {
    List<String> asked =
        Stream.of(words.toLowerCase(Locale.ROOT).strip().split("\\s+"))
            .filter(w -> !w.isEmpty())
            .toList();
    return offers().stream()
        .filter(
            o -> {
              String text =
                  String.join(" ", o.name(), o.id(), o.publisher(), o.summary(), o.category())
                      .toLowerCase(Locale.ROOT);
              return asked.stream().allMatch(text::contains);
            })
        .sorted(Comparator.comparing(o -> !o.prices().containsKey(country)))
        .limit(MOST_FOUND)
        .toList();
  }

  synchronized List<Offer> of(Collection<String> ids) {
    return ids.stream().distinct().map(book.offers::get).filter(o -> o != null).toList();
  }

  // ---- licenses --------------------------------------------------------------------------------

  private static String key(String account, String app, String place) {
    return String.join("\n", account, app, place);
  }

  /**
   * An account buys licenses for a place of its own.
   *
   * @throws IllegalArgumentException when the app is not sold in the country, or needs no license
   */
  public synchronized Stock buy(
      String account, String app, String place, String country, long number) {
    Offer o = offer(app);
    if (o.licensing() == Licensing.FREE) {
      throw new IllegalArgumentException(o.name() + " is free; nobody needs a license");
    }
    if (!o.prices().containsKey(country)) {
      throw new IllegalArgumentException(
          o.name() + " is not sold in " + COUNTRIES.getOrDefault(country, country));
    }
    if (number < 1 || number > 1_000_000 || place.isBlank() || place.length() > 80) {
      throw new IllegalArgumentException("name a place, and a number from 1 to 1000000");
    }
    return owning(account, app, place.strip(), number);
  }

  /**
   * An account buys licenses as codes of the older kind, which it redeems later.
   *
   * @return the codes
   * @throws IllegalArgumentException as {@link #buy} does
   */
  public synchronized List<String> codes(String app, String country, long number) {
    Offer o = offer(app);
    if (o.licensing() == Licensing.FREE || !o.prices().containsKey(country)) {
      throw new IllegalArgumentException(o.name() + " is not sold as codes there");
    }
    if (number < 1 || number > 5_000) {
      throw new IllegalArgumentException("name a number from 1 to 5000");
    }
    List<String> made = new ArrayList<>();
    while (made.size() < number) {
      String code =
          "%s-%s"
              .formatted(
                  InvitationCode.generate(RANDOM::nextInt).display(),
                  InvitationCode.generate(RANDOM::nextInt).value().substring(0, 4));
      if (book.codes.putIfAbsent(code, new Code(app, false)) == null) {
        made.add(code);
      }
    }
    return made;
  }

  /**
   * Says what codes are worth, and redeems those that are good where that is wanted: each is a
   * license for a place.
   *
   * @return by code
   */
  synchronized Map<String, CodeJudgement> judge(
      String account, String app, String place, Collection<String> codes, boolean redeem) {
    Map<String, CodeJudgement> out = new TreeMap<>();
    long good = 0;
    for (String code : codes) {
      Code known = book.codes.get(code);
      CodeJudgement judged =
          known == null
              ? CodeJudgement.UNKNOWN
              : !known.app().equals(app)
                  ? CodeJudgement.OTHER_APP
                  : known.spent() ? CodeJudgement.SPENT : CodeJudgement.GOOD;
      out.put(code, judged);
      if (judged == CodeJudgement.GOOD && redeem) {
        book.codes.put(code, new Code(app, true));
        good++;
      }
    }
    if (good > 0) {
      owning(account, app, place.strip(), good);
    }
    return out;
  }

  private Stock owning(String account, String app, String place, long more) {
    Stock before =
        book.stock.getOrDefault(
            key(account, app, place), new Stock(account, app, place, 0, new TreeSet<>()));
    Stock now = new Stock(account, app, place, before.owned() + more, before.names());
    book.stock.put(key(account, app, place), now);
    return now;
  }

  /** What an account bought. */
  synchronized List<Stock> bought(String account) {
    return book.stock.values().stream()
        .filter(s -> s.account().equals(account))
        .map(s -> new Stock(s.account(), s.app(), s.place(), s.owned(), new TreeSet<>(s.names())))
        .toList();
  }

  /** Everything that was bought. */
  public synchronized List<Stock> bought() {
    return book.stock.values().stream()
        .map(s -> new Stock(s.account(), s.app(), s.place(), s.owned(), new TreeSet<>(s.names())))
        .toList();
  }

  /**
   * Puts licenses into names, or takes them back.
   *
   * @return the names for which it is so now
   */
  public synchronized List<String> hold(
      String account, String app, String place, Collection<String> names, boolean held) {
    Stock stock = book.stock.get(key(account, app, place));
    List<String> done = new ArrayList<>();
    for (String name : names) {
      if (stock == null) {
        if (!held) {
          done.add(name);
        }
      } else if (!held) {
        stock.names().remove(name);
        done.add(name);
      } else if (stock.names().contains(name) || stock.names().size() < stock.owned()) {
        stock.names().add(name);
        done.add(name);
      }
    }
    return done;
  }

  /**
   * Moves licenses nobody holds from one place to another.
   *
   * @throws IllegalArgumentException when fewer are free
   */
  synchronized void move(String account, String app, String from, String to, long number) {
    Stock stock = book.stock.get(key(account, app, from));
    long free = stock == null ? 0 : stock.owned() - stock.names().size();
    if (number < 1 || number > free || to.isBlank()) {
      throw new IllegalArgumentException(from + " has " + free + " free licenses to be moved");
    }
    owning(account, app, from, -number);
    owning(account, app, to.strip(), number);
  }

  // ---- packages --------------------------------------------------------------------------------

  /** A package, and how large it is. */
  record Package(Path path, long size) {}

  /**
   * A package for a device.
   *
   * @param serial which device, as its maker says
   * @param holder mail address of whoever is signed in on it; null for nobody
   * @return empty when there is none of this digest
   * @throws SecurityException when the device has no license for it, saying so
   */
  synchronized Optional<Package> fetch(String sha256, String serial, @Nullable String holder)
      throws IOException {
    for (Offer o : book.offers.values()) {
      if (o.versions().stream().anyMatch(v -> v.sha256().equals(sha256))) {
        if (o.licensing() != Licensing.FREE && !licensed(o, serial, holder)) {
          throw new SecurityException(
              o.licensing() == Licensing.BY_DEVICE
                  ? "no license of " + o.name() + " is in the name of " + serial
                  : "no license of " + o.name() + " is in the name of whoever holds it");
        }
        Path file = packages.resolve(sha256);
        return Optional.of(new Package(file, Files.size(file)));
      }
    }
    return Optional.empty();
  }

  private boolean licensed(Offer o, String serial, @Nullable String holder) {
    String name =
        o.licensing() == Licensing.BY_DEVICE
            ? serial
            : holder == null ? "" : holder.toLowerCase(Locale.ROOT);
    return book.stock.values().stream()
        .anyMatch(s -> s.app().equals(o.id()) && s.names().contains(name));
  }
}
