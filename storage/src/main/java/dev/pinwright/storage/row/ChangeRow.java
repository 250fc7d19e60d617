package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** A change that moved devices, for the tray. */
@Entity
@DynamicUpdate
@Table(name = "change")
public class ChangeRow {
  @Id public String id;

  public String title;

  public String profileId;

  public Integer version;

  /** Devices whose settings it moved. */
  public int total;

  /** Devices it was about. */
  public int devices;

  public String undoes;

  public String undoneBy;

  public Instant at;

  public String actor;

  public String reason;

  /** Login of the second person who agreed; null where nobody was asked. */
  public String agreedBy;
}
