package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** A management session that goes beyond one exchange. */
@Entity
@DynamicUpdate
@Table(name = "dm_session")
public class DmSessionRow {
  @Id public String deviceId;

  public String sessionId;

  public int msgId;

  public String state;

  public Instant changedAt;
}
