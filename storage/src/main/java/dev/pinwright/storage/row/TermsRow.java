package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** One version of the terms; never changed once written. */
@Entity
@DynamicUpdate
@Table(name = "terms")
public class TermsRow {
  @Id public int version;

  public String language = "en";

  public String title;

  public String text;

  public Instant createdAt;
}
