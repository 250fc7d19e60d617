package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.hibernate.annotations.OptimisticLock;

/**
 * A lost device, from the report to its end. That it was asked, heard or rung is no change of what
 * somebody has open to edit.
 */
@Entity
@DynamicUpdate
@Table(name = "lost_case")
public class LostCaseRow {
  @Id public String id;

  @Version public int version;

  public String deviceId;

  public String state;

  public String what;

  public String lockText;

  public String lockPhone;

  public Integer everyMinutes;

  public Instant lostAt;

  public String ringSiteId;

  @OptimisticLock(excluded = true)
  public Instant rungAt;

  @OptimisticLock(excluded = true)
  public Instant lookedAt;

  @OptimisticLock(excluded = true)
  public Instant heardAt;

  public Instant openedAt;

  public String openedBy;

  public Instant endedAt;

  public String endedBy;

  public String words = "";
}
