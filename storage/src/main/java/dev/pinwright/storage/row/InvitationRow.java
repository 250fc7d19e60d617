package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** An invitation; the code is kept as a hash to find it and sealed to show it. */
@Entity
@DynamicUpdate
@Table(name = "invitation")
public class InvitationRow {
  @Id public String id;

  public String profileId;

  public String personId;

  public String codeHash;

  public byte[] sealedCode;

  public String note;

  public int uses;

  public int usesAllowed;

  public Instant expiresAt;

  public Instant withdrawnAt;

  public Instant createdAt;

  public String createdBy;

  public String mail;

  public String mailState = "none";

  public String mailFault = "";

  public Instant mailedAt;

  public int mailedTimes;
}
