package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** One attempt to join. */
@Entity
@DynamicUpdate
@Table(name = "arrival")
public class ArrivalRow {
  @Id public String id;

  public String invitationId;

  public String profileId;

  public String deviceId;

  public String deviceKey;

  public String platform;

  public String model;

  public String identifier;

  public String step;

  public String outcome;

  public String reason;

  public String refusal;

  public boolean approved;

  public String settledBy;

  public Instant startedAt;

  public Instant changedAt;
}
