package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** An enrollment profile. */
@Entity
@DynamicUpdate
@Table(name = "enrollment_profile")
public class EnrollmentProfileRow implements Removable {
  @Id public String id;

  @Version public int version;

  public String name;

  public String ownership;

  public String mode;

  @JdbcTypeCode(SqlTypes.ARRAY)
  public String[] platforms;

  @JdbcTypeCode(SqlTypes.ARRAY)
  public String[] kinds;

  public String signIn;

  public String passphraseHash;

  public Integer termsVersion;

  @JdbcTypeCode(SqlTypes.JSON)
  public String minimumOs;

  public boolean approval;

  public String namePattern;

  public boolean rosterOnly;

  public boolean fillGaps;

  public String unitId;

  public String siteId;

  @JdbcTypeCode(SqlTypes.ARRAY)
  public String[] groups;

  @JdbcTypeCode(SqlTypes.ARRAY)
  public String[] tags;

  public String directoryGroup;

  @JdbcTypeCode(SqlTypes.JSON)
  public String firstRun;

  @JdbcTypeCode(SqlTypes.JSON)
  public String readyGate;

  public boolean removable;

  public boolean comesBack;

  public Instant createdAt;

  public Instant removedAt;

  @Override
  public boolean removed() {
    return removedAt != null;
  }
}
