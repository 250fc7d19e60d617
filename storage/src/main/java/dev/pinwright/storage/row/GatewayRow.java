package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** The connection to one platform's push, registrar and store. */
@Entity
@DynamicUpdate
@Table(name = "gateway")
public class GatewayRow {
  @Id public String platform;

  @Version public int version;

  /** How often people changed it. */
  public int edited;

  public String services;

  public String roots;

  public String pushRequest;

  public byte[] pushRequestKey;

  public String pushCertificate;

  public byte[] pushKey;

  public String pushAccount;

  public String pushTopic;

  public Instant pushExpiresAt;

  public Integer pushTold;

  public String pushFault = "";

  public byte[] registrarToken;

  public String registrarAccount;

  public Instant registrarSyncedAt;

  public String registrarFault = "";

  public String defaultProfileId;

  public byte[] storeToken;

  public String storeAccount;

  public Instant storeCheckedAt;

  public String storeFault = "";
}
