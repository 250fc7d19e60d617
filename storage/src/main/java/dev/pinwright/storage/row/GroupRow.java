package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** A picked group. */
@Entity
@DynamicUpdate
@Table(name = "device_group")
public class GroupRow {
  @Id public String id;

  @Version public int version;

  public String name;

  public Instant createdAt;
}
