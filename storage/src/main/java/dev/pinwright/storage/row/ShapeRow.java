package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** A shape and the digest of its desired tree. */
@Entity
@Table(name = "shape")
public class ShapeRow {
  @Id public String key;

  public String platform;

  public String mode;

  public String osLevel;

  public String layers;

  public String digest;

  public Instant createdAt;
}
