package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import org.hibernate.annotations.DynamicUpdate;

/** A key of the server itself, sealed, and its certificate. */
@Entity
@DynamicUpdate
@Table(name = "authority")
public class AuthorityRow {
  @Id public String kind;

  public String certificate;

  public byte[] sealedKey;

  public String hosts;
}
