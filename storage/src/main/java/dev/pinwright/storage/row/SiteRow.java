package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
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

  public Instant createdAt;
}
