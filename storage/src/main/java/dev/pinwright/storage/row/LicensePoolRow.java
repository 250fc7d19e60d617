package dev.pinwright.storage.row;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import jakarta.persistence.Version;
import org.hibernate.annotations.DynamicUpdate;

/** Licenses of one app for one place. */
@Entity
@DynamicUpdate
@Table(name = "license_pool")
public class LicensePoolRow {
  @Id public String id;

  @Version public int version;

  public String appId;

  /** What the vendor's portal calls the place. */
  public String place;

  /** The site whose devices draw on it; null for those of every site. */
  public String siteId;

  public long owned;

  /** Given away in the portal, to whom is unknown here. */
  public long elsewhere;

  /** Why the store did not do what it was asked last; empty when it did. */
  public String fault;
}
