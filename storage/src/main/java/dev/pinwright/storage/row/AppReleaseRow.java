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

/** One version of an app. */
@Entity
@DynamicUpdate
@Table(name = "app_release")
@IdClass(AppReleaseRow.Key.class)
public class AppReleaseRow {
  @Id public String appId;

  @Id public long code;

  public String version;

  /** Lowest OS version by platform. */
  @JdbcTypeCode(SqlTypes.JSON)
  public String lowest;

  @JdbcTypeCode(SqlTypes.ARRAY)
  public String[] permissions;

  public long bytes;

  public long installed;

  public String notes;

  /** JSON Schema of its configuration; null where it has none. */
  @JdbcTypeCode(SqlTypes.JSON)
  public String configuration;

  /** The package as a stored file; null where it lies with the store. */
  public String fileId;

  /** SHA-256 of the package. */
  public String sha256;

  /** Where the store serves the package; null where it lies here. */
  public String address;

  /** What it opens, where it is a page of the web; else null. */
  public String opens;

  public Instant broughtAt;

  public String broughtBy;

  /** Primary key. */
  public record Key(String appId, long code) implements Serializable {}
}
