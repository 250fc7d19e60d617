package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** A printed code with what an app is told; kept as a hash to find it and sealed to show it. */
@Entity
@DynamicUpdate
@Table(name = "configuration_code")
public class ConfigurationCodeRow {
  @Id public String id;

  public String appId;

  public String unitId;

  public String name;

  public String codeHash;

  public byte[] sealedCode;

  /** JSON the app is told, its placeholders not filled in. */
  public String configuration;

  /** JSON laid over it, sealed; null where there is none. */
  public byte[] sealedSecrets;

  public Instant madeAt;

  public String madeBy;

  public Instant until;

  public Instant revokedAt;

  /** How often it was read. */
  public long readTimes;

  public Instant readAt;
}
