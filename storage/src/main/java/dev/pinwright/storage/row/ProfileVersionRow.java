package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A published version; never changed. */
@Entity
@DynamicUpdate
@Table(name = "profile_version")
@IdClass(ProfileVersionRow.Key.class)
public class ProfileVersionRow {
  @Id public String profileId;

  @Id public int number;

  public String name;

  @JdbcTypeCode(SqlTypes.JSON)
  public String content;

  public long publication;

  public Instant publishedAt;

  public String publishedBy;

  /** Primary key. */
  public record Key(String profileId, int number) implements Serializable {}
}
