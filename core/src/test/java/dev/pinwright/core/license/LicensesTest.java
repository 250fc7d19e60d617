package dev.pinwright.core.license;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.LongRange;
import net.jqwik.api.constraints.Size;
import org.junit.jupiter.api.Test;

class LicensesTest {
  private static final Optional<String> QUAY = Optional.of("quay");
  private static final Optional<String> ULBY = Optional.of("ulby");
  private static final Optional<String> NOWHERE = Optional.empty();

  @Test
  void eachSiteDrawsOnItsOwnFirstAndThenOnWhatIsForAll() {
    List<Pool> pools = List.of(new Pool(QUAY, 10, 4), new Pool(NOWHERE, 5, 0));
    assertThat(Demand.lacking(List.of(new Demand(QUAY, 6)), pools)).isZero();
    assertThat(Demand.lacking(List.of(new Demand(QUAY, 12)), pools)).isEqualTo(1);
    assertThat(Demand.lacking(List.of(new Demand(ULBY, 6), new Demand(NOWHERE, 3)), pools))
        .as("what is the quay's is not theirs")
        .isEqualTo(4);
    assertThat(Demand.lacking(List.of(new Demand(QUAY, 8), new Demand(ULBY, 4)), pools))
        .isEqualTo(1);
  }

  @Test
  void aPoolThatWasSoldShorterThanItIsUsedHasNoneToGive() {
    assertThat(new Pool(NOWHERE, 3, 7).free()).isZero();
    assertThat(Demand.lacking(List.of(new Demand(NOWHERE, 2)), List.of(new Pool(NOWHERE, 3, 7))))
        .isEqualTo(2);
  }

  @Property
  void neverMoreLackThanWantAndOneMoreLicenseForAllHelpsOneMore(
      @ForAll @Size(max = 4) List<@LongRange(max = 50) Long> wanting,
      @ForAll @LongRange(max = 100) long owned) {
    List<Demand> demands = new ArrayList<>();
    for (int i = 0; i < wanting.size(); i++) {
      demands.add(new Demand(i == 0 ? NOWHERE : Optional.of("site " + i), wanting.get(i)));
    }
    long all = wanting.stream().mapToLong(Long::longValue).sum();
    long lacking = Demand.lacking(demands, List.of(new Pool(NOWHERE, owned, 0)));
    assertThat(lacking).isEqualTo(Math.max(0, all - owned));
    assertThat(Demand.lacking(demands, List.of(new Pool(NOWHERE, owned + 1, 0))))
        .isEqualTo(Math.max(0, lacking - 1));
  }

  @Test
  void howLongTheyLastFollowsFromHowManyWereTakenLately() {
    assertThat(Forecast.daysLeft(9, 28)).hasValue(9);
    assertThat(Forecast.daysLeft(3, 56)).hasValue(1);
    assertThat(Forecast.daysLeft(0, 0)).hasValue(0);
    assertThat(Forecast.daysLeft(5, 0)).isEmpty();
  }

  private static Forecast.Place place(String site, long free, long taken) {
    return new Forecast.Place(
        site.isEmpty() ? "Trust" : site, Optional.of(site).filter(s -> !s.isEmpty()), free, taken);
  }

  @Test
  void whatRunsOutFirstIsAllOfThemOrThoseOfASiteThatFindsNoneElsewhere() {
    assertThat(Forecast.runsOut(List.of(), 14)).isEmpty();
    assertThat(Forecast.runsOut(List.of(place("Tollen", 4, 28), place("Ulby", 4, 28)), 14))
        .contains(new Forecast.RunsOut(Optional.empty(), 4, 8));
    List<Forecast.Place> uneven = List.of(place("Tollen", 2, 28), place("Ulby", 90, 0));
    assertThat(Forecast.runsOut(uneven, 14))
        .as("Ulby has enough, and Tollen cannot draw on it")
        .contains(new Forecast.RunsOut(Optional.of("Tollen"), 2, 2));
    assertThat(Forecast.runsOut(List.of(place("Tollen", 2, 28), place("", 90, 0)), 14))
        .as("what is for every site is there for Tollen too")
        .isEmpty();
    assertThat(Forecast.runsOut(List.of(place("Tollen", 0, 28), place("Ulby", 90, 0)), 14))
        .as("who goes without is counted elsewhere")
        .isEmpty();
  }
}
