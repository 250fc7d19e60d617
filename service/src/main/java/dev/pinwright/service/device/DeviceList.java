package dev.pinwright.service.device;

import dev.pinwright.core.Words;
import dev.pinwright.core.device.DeviceSummary;
import dev.pinwright.core.target.NamedDevices;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Page;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.device.DeviceLists;
import dev.pinwright.storage.device.DeviceLists.Order;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;

/** Lists of devices: pages and counts. */
public final class DeviceList {
  private final UseCases useCases;

  public DeviceList(UseCases useCases) {
    this.useCases = useCases;
  }

  /** How many devices stand how, and how many hold a socket open to any node. */
  public record Fleet(
      long total, Map<String, Long> byStanding, Map<String, Long> byPlatform, long online) {}

  /**
   * Finds devices that somebody names one by one.
   *
   * @param lines see {@link NamedDevices#read}
   * @throws Problem 400 for none, or for more than {@link NamedDevices#MOST}
   */
  public NamedDevices named(Caller caller, List<String> lines) {
    List<String> typed = NamedDevices.read(lines);
    Set<String> plain = NamedDevices.plain(typed);
    if (plain.isEmpty() || plain.size() > NamedDevices.MOST) {
      throw Problem.malformed(
          "/identifiers",
          "Name 1 to " + NamedDevices.MOST + " devices by serial number, IMEI or asset number.");
    }
    return useCases.read(tx -> NamedDevices.of(typed, new DeviceLists(tx).named(plain)));
  }

  /**
   * A page of devices.
   *
   * @param sort {@code name}, {@code last-seen} or {@code enrolled}; times newest first
   */
  public Page<DeviceSummary> page(
      Caller caller, DeviceFilter filter, String sort, Page.Request page) {
    Order order =
        Arrays.stream(Order.values())
            .filter(o -> Words.of(o).equals(sort))
            .findFirst()
            .orElseThrow(
                () ->
                    Problem.malformed(
                        "/sort",
                        "sort has to be one of "
                            + Arrays.stream(Order.values())
                                .map(Words::of)
                                .collect(Collectors.joining(", "))
                            + "."));
    String[] c = page.parts(order == Order.NAME ? Page.Part.TEXT : Page.Part.TIME, Page.Part.TEXT);
    Optional<DeviceLists.Place> after =
        c.length == 0 ? Optional.empty() : Optional.of(new DeviceLists.Place(c[0], c[1]));
    return useCases.read(
        tx ->
            Page.of(
                new DeviceLists(tx)
                    .page(filter.query(tx, useCases.now()), order, after, page.limit() + 1),
                page.limit(),
                DeviceLists.Line::device,
                l -> Page.cursor(l.place().value(), l.place().id())));
  }

  /** How many devices match. */
  public long count(Caller caller, DeviceFilter filter) {
    return useCases.read(tx -> new DeviceLists(tx).count(filter.query(tx, useCases.now())));
  }

  /** Counts for the fleet strip. */
  public Fleet fleet(Caller caller) {
    return useCases.read(
        tx -> {
          DeviceLists lists = new DeviceLists(tx);
          Map<String, Long> standings = new TreeMap<>();
          Map<String, Long> platforms = new TreeMap<>();
          long total = 0;
          for (DeviceLists.Stand s : lists.stands()) {
            standings.merge(Words.of(s.standing()), s.devices(), Long::sum);
            platforms.merge(s.platform(), s.devices(), Long::sum);
            total += s.devices();
          }
          return new Fleet(total, standings, platforms, lists.connected());
        });
  }
}
