package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A rehearsal that was saved for a second person's word. */
@Entity
@DynamicUpdate
@Table(name = "proposal")
public class ProposalRow {
  @Id public String id;

  @Version public int version;

  public String title;

  @JdbcTypeCode(SqlTypes.JSON)
  public String intent;

  public String note;

  @JdbcTypeCode(SqlTypes.JSON)
  public String rehearsal;

  public String state;

  public Instant proposedAt;

  public String proposedBy;

  public String proposerId;

  public Instant lapsesAt;

  public Instant decidedAt;

  public String decidedBy;

  public String reason;

  public String changeId;
}
