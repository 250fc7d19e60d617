package dev.pinwright.storage.row;

import dev.pinwright.core.Words;
import dev.pinwright.core.policy.ProfileKind;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A profile with its draft. */
@Entity
@DynamicUpdate
@Table(name = "profile")
public class ProfileRow {
  @Id public String id;

  @Version public int version;

  /** What it is, a {@link ProfileKind} as a word. */
  public String kind = "profile";

  /** The app it assigns; null where it is no assignment of an app. */
  public String appId;

  public String name;

  public String description;

  @JdbcTypeCode(SqlTypes.JSON)
  public String draft;

  public boolean draftChanged;

  public Integer publishedVersion;

  /** Whether its published version reaches whom it is assigned to, as it was looked at last. */
  public boolean inForce = true;

  public Instant inForceFrom;

  public Instant inForceUntil;

  public Instant createdAt;

  public Instant changedAt;

  /** What it is. */
  public ProfileKind kind() {
    return Words.parse(ProfileKind.class, kind);
  }
}
