package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.jspecify.annotations.Nullable;

/** A certificate issued to a device, by serial number in hex. */
@Entity
@DynamicUpdate
@Table(name = "device_certificate")
public class DeviceCertificateRow {
  @Id public String serial;

  public String deviceId;

  public String state;

  public Instant notAfter;

  public Instant createdAt;

  /** User name of the grant it was got with; none for one that was renewed. */
  public @Nullable String grantName;
}
