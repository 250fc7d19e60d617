package dev.pinwright.core.own;

import static org.assertj.core.api.Assertions.assertThat;

import dev.pinwright.core.tree.Leaf;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class OwnDetailsTest {
  @Test
  void whatThereIsHasALeafAndNothingElseDoes() {
    OwnDetails own =
        new OwnDetails(
            "Kiosk 007",
            Optional.empty(),
            Optional.of("Harbour Museum"),
            Optional.of(" "),
            Optional.of(
                new OwnDetails.Holder("Ines Aldane", Optional.of("ines"), Optional.empty())),
            Map.of("Lease ends", "2027-03-01"),
            Optional.of("MZXW6"),
            Optional.of("2 MIIB"));
    assertThat(own.tree().leaves())
        .isEqualTo(
            Map.of(
                "./Vendor/Pinwright/Self/Name", text("Kiosk 007"),
                "./Vendor/Pinwright/Self/Unit", text("Harbour Museum"),
                "./Vendor/Pinwright/Self/Person", text("Ines Aldane"),
                "./Vendor/Pinwright/Self/Login", text("ines"),
                "./Vendor/Pinwright/Self/Attribute/lease-ends", text("2027-03-01"),
                "./Vendor/Pinwright/Self/ExitSecret", text("MZXW6"),
                "./Vendor/Pinwright/Self/RecoveryKeyWrap", text("2 MIIB")));
  }

  @Test
  void anAttributesKeyIsItsNameInSmallLettersAndDashes() {
    assertThat(OwnDetails.key("Lease ends")).isEqualTo("lease-ends");
    assertThat(OwnDetails.key("  Wert (neu)! ")).isEqualTo("wert-neu");
  }

  @Test
  void ofAttributesWithOneKeyTheFirstByNameCounts() {
    OwnDetails own =
        new OwnDetails(
            "x",
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Map.of("Bay no", "4", "Bay-no", "5"),
            Optional.empty(),
            Optional.empty());
    assertThat(own.tree().leaves()).containsEntry(OwnDetails.path("Attribute/bay-no"), text("4"));
  }

  @Test
  void placeholdersAreFilledInAndWhatWasNotToldIsLeftOut() {
    Map<String, String> own = Map.of("Name", "Kiosk 007", "Attribute/bay", "$4\\");
    assertThat(
            Placeholders.fill(
                "{self:Name} in {self:Attribute/bay}, {self:Person}{self:nonsense",
                name -> Optional.ofNullable(own.get(name))))
        .isEqualTo("Kiosk 007 in $4\\, {self:nonsense");
  }

  @Test
  void aPlaceholderNoDeviceCanFillInIsObjectedTo() {
    List<String> attributes = List.of("Lease ends");
    assertThat(Placeholders.objection("Property of {self:Unit}", attributes)).isEmpty();
    assertThat(Placeholders.objection("until {self:Attribute/lease-ends}", attributes)).isEmpty();
    assertThat(Placeholders.objection("{self:Attribute/bay}", attributes))
        .hasValueSatisfying(o -> assertThat(o).startsWith("holds {self:Attribute/bay}"));
    assertThat(Placeholders.objection("{self:ExitSecret}", attributes)).isPresent();
    assertThat(Placeholders.allKnown("{self:ExitSecret}")).isFalse();
    assertThat(Placeholders.allKnown("{self:Attribute/whatever} {self:Mail}")).isTrue();
  }

  private static Leaf text(String value) {
    return new Leaf("chr", value);
  }
}
