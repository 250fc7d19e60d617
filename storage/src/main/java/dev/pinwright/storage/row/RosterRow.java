package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A device that is known before it arrives. */
@Entity
@DynamicUpdate
@Table(name = "roster_entry")
public class RosterRow {
  @Id public String id;

  @Version public int version;

  public String serial;

  public String imei;

  public String asset;

  public String name;

  public String personId;

  public String unitId;

  public String siteId;

  @JdbcTypeCode(SqlTypes.ARRAY)
  public String[] tags;

  public String profileId;

  public String source;

  public String state;

  public String deviceId;

  public Instant createdAt;

  public Instant changedAt;
}
