package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.annotations.OptimisticLock;
import org.hibernate.type.SqlTypes;

/** A command that repeats. That it ran is no change of what somebody has open to edit. */
@Entity
@DynamicUpdate
@Table(name = "standing_order")
public class StandingOrderRow {
  @Id public String id;

  @Version public int version;

  public String name;

  @JdbcTypeCode(SqlTypes.JSON)
  public String wanted;

  public String command;

  public String whom;

  public String[] days;

  public String time;

  public String zone;

  public long minutes;

  public boolean paused;

  @OptimisticLock(excluded = true)
  public Instant nextAt;

  @OptimisticLock(excluded = true)
  public Instant lastAt;

  @OptimisticLock(excluded = true)
  public String lastDispatch;

  @OptimisticLock(excluded = true)
  public String fault = "";

  public String accountId;

  public String madeBy;
}
