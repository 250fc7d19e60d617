package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.jspecify.annotations.Nullable;

/** A group, picked or by rule. */
@Entity
@DynamicUpdate
@Table(name = "device_group")
public class GroupRow {
  @Id public String id;

  @Version public int version;

  public String name;

  /** Which devices are in it by themselves, with ids for names; none in a group picked by hand. */
  public @Nullable String rule;

  public Instant createdAt;
}
