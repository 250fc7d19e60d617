package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** A unit of the organisation tree. */
@Entity
@DynamicUpdate
@Table(name = "unit")
public class UnitRow {
  @Id public String id;

  @Version public int version;

  public String code;

  public String name;

  public String parentId;

  public Instant createdAt;
}
