package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A device. */
@Entity
@Table(name = "device")
public class DeviceRow {
  @Id public String id;

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

  public String standing;

  public String standingReason;

  public String shapeKey;

  public String desiredDigest;

  public String reportedDigest;

  public String agreedDigest;

  public String refused;

  public String changeId;

  @JdbcTypeCode(SqlTypes.JSON)
  public String facts;

  public Instant factsAt;

  public Instant enrolledAt;

  public Instant lastSeen;

  public Instant retiredAt;
}
