package dev.pinwright.storage.row;

import dev.pinwright.core.organisation.LargePackages;
import dev.pinwright.core.place.Outline;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import java.util.Optional;
import org.hibernate.annotations.DynamicUpdate;

/** A place on the map. */
@Entity
@DynamicUpdate
@Table(name = "site")
public class SiteRow {
  @Id public String id;

  @Version public int version;

  public String name;

  public String address;

  public Double latitude;

  public Double longitude;

  /** Longitude and latitude of each corner, one after the other; null without an outline. */
  public Double[] outline;

  public Double south;

  public Double west;

  public Double north;

  public Double east;

  /** Packages above so many MB come in at {@link #largeHours} only; null for all at any time. */
  public Integer largeAboveMb;

  public String largeHours;

  public Instant createdAt;

  /** Says when large packages come in, or that all do at any time. */
  public void large(Optional<LargePackages> said) {
    largeAboveMb = said.map(LargePackages::aboveMegabytes).orElse(null);
    largeHours = said.map(LargePackages::hours).orElse(null);
  }

  /** Gives it an outline, or takes it away. */
  public void outline(Optional<Outline> drawn) {
    outline = drawn.map(o -> o.flat().toArray(Double[]::new)).orElse(null);
    south = drawn.map(Outline::south).orElse(null);
    west = drawn.map(Outline::west).orElse(null);
    north = drawn.map(Outline::north).orElse(null);
    east = drawn.map(Outline::east).orElse(null);
  }
}
