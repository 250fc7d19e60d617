package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** One order of a command to many devices. */
@Entity
@DynamicUpdate
@Table(name = "dispatch")
public class DispatchRow {
  @Id public String id;

  public String command;

  @JdbcTypeCode(SqlTypes.JSON)
  public String fields;

  public String reason;

  public Instant at;

  /** The time it was ordered for; null for at once. */
  public Instant dueAt;

  /** Hours in which it is delivered, {@code HH:mm}; null for any. */
  public String windowFrom;

  public String windowTo;

  /** Zone of devices that do not tell theirs; null where it does not matter. */
  public String zone;

  /** Whether a device carries it out once nobody is using it. */
  public boolean notInUse;

  public Instant expiresAt;

  public String actor;

  /** Login of the second person, where one agreed; null otherwise. */
  public String agreedBy;

  /** How many devices it wipes or releases. */
  public int wiping;

  public int total;

  public String accountId;

  public String idempotencyKey;

  public String requestHash;
}
