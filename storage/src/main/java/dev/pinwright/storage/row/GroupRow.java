package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;

/** A picked group. */
@Entity
@Table(name = "device_group")
public class GroupRow {
  @Id public String id;

  @Version public int version;

  public String name;

  public Instant createdAt;
}
