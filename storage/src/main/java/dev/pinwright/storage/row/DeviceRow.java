package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/**
 * What hardly ever changes about a device; the rest is in {@code DeviceStates}. Only columns that
 * were changed are written, and whoever changes one holds the row first.
 */
@Entity
@DynamicUpdate
@Table(name = "device")
public class DeviceRow {
  @Id public String id;

  @Version public int version;

  public String name;

  public String platform;

  public String kind;

  public String maker;

  public String model;

  public String osVersion;

  public String osLevel;

  public String ownership;

  public String mode;

  public String enrollmentProfileId;

  public Integer enrollmentVersion;

  @JdbcTypeCode(SqlTypes.JSON)
  public String readyGate;

  public String gateTold;

  public String unitId;

  public String siteId;

  public String personId;

  public String serial;

  public String imei;

  public String asset;

  @JdbcTypeCode(SqlTypes.JSON)
  public String facts;

  public Instant enrolledAt;

  public Instant retiredAt;

  public String retiredBy;
  public Instant letGoAt;
}
