package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** A password for one certificate. */
@Entity
@DynamicUpdate
@Table(name = "est_grant")
public class EstGrantRow {
  @Id public String username;

  public String deviceId;

  public String passwordHash;

  public Instant expiresAt;

  public Instant usedAt;
}
