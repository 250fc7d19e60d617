package dev.pinwright.sandbox;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.core.catalog.Platform;
import dev.pinwright.sandbox.bench.Cable;
import dev.pinwright.sandbox.device.Fleet;
import dev.pinwright.sandbox.office.MailCatcher;
import dev.pinwright.sandbox.office.SiteServer;
import dev.pinwright.sandbox.office.StaffDirectory;
import dev.pinwright.sandbox.vendor.Vendors;
import java.nio.file.Path;

/** Everything a sandbox has: devices, their makers, a mail server, a directory and a bench. */
public final class Outside implements AutoCloseable {
  private static final int MAIL = 4;
  private static final int DIRECTORY = 5;
  private static final int CACHE = 6;
  private final Vendors vendors;
  private final MailCatcher mail;
  private final StaffDirectory directory;
  private final Fleet fleet;
  private final Cable cable;
  private final SiteServer siteServer;
  private final SandboxListener listener;

  /**
   * Starts all of it.
   *
   * @param home where devices and vendors are kept
   * @param port of the pages; the vendors' services, mail, directory and cache take the ones after
   *     it; 0 takes any
   */
  public Outside(Path home, int port) {
    Catalogue catalogue = Catalogue.load();
    vendors =
        new Vendors(
            home.resolve("vendors"),
            catalogue.catalog().platforms().stream().map(Platform::key).toList(),
            port == 0 ? 0 : port + 1);
    mail = new MailCatcher(port == 0 ? 0 : port + MAIL);
    directory =
        new StaffDirectory(port == 0 ? 0 : port + DIRECTORY, home.resolve("staff-directory.ldif"));
    siteServer = new SiteServer(home.resolve("cache"), port + CACHE);
    fleet = new Fleet(catalogue, home.resolve("devices"), vendors);
    cable = new Cable(fleet);
    listener =
        new SandboxListener(
            fleet, port, new OutsideCalls(fleet, vendors, mail, directory, cable)::install);
  }

  public Vendors vendors() {
    return vendors;
  }

  public MailCatcher mail() {
    return mail;
  }

  public StaffDirectory directory() {
    return directory;
  }

  /** The machine at a site with a slow line. */
  public SiteServer siteServer() {
    return siteServer;
  }

  public Fleet fleet() {
    return fleet;
  }

  public Cable cable() {
    return cable;
  }

  /** Port of the pages. */
  public int port() {
    return listener.port();
  }

  @Override
  public void close() {
    listener.close();
    fleet.close();
    vendors.close();
    mail.close();
    directory.close();
    siteServer.close();
  }
}
