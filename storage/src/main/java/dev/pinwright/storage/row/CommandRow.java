package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** One instruction to one device. */
@Entity
@DynamicUpdate
@Table(name = "command")
public class CommandRow {
  @Id public String id;

  public String dispatchId;

  public String deviceId;

  public String command;

  public String state;

  public String reason;

  public Instant queuedAt;

  public Instant deliveredAt;

  public Instant endedAt;

  public Instant expiresAt;
}
