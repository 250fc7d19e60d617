package dev.pinwright.service;

import dev.pinwright.catalog.Catalogue;
import dev.pinwright.service.access.Accounts;
import dev.pinwright.service.access.ListLayouts;
import dev.pinwright.service.access.Throttle;
import dev.pinwright.service.acting.CommandHistory;
import dev.pinwright.service.acting.Dispatches;
import dev.pinwright.service.acting.MessageTemplates;
import dev.pinwright.service.acting.Outputs;
import dev.pinwright.service.acting.Queues;
import dev.pinwright.service.acting.StandingOrders;
import dev.pinwright.service.acting.WipeCourse;
import dev.pinwright.service.acting.Wipes;
import dev.pinwright.service.app.AppSources;
import dev.pinwright.service.app.Apps;
import dev.pinwright.service.app.ConfigurationCodes;
import dev.pinwright.service.app.DeviceApps;
import dev.pinwright.service.app.Releases;
import dev.pinwright.service.app.StoreApps;
import dev.pinwright.service.app.SystemApps;
import dev.pinwright.service.app.WebApps;
import dev.pinwright.service.arrival.Arrivals;
import dev.pinwright.service.arrival.Joining;
import dev.pinwright.service.bench.Bench;
import dev.pinwright.service.bench.BenchCable;
import dev.pinwright.service.bench.BenchWork;
import dev.pinwright.service.cache.SiteCaches;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.compliance.Checks;
import dev.pinwright.service.compliance.Orders;
import dev.pinwright.service.configuration.Configurations;
import dev.pinwright.service.device.DeviceEdits;
import dev.pinwright.service.device.DeviceList;
import dev.pinwright.service.device.DeviceSheets;
import dev.pinwright.service.device.Devices;
import dev.pinwright.service.device.Groups;
import dev.pinwright.service.device.LastSeen;
import dev.pinwright.service.device.Leaving;
import dev.pinwright.service.device.Replacement;
import dev.pinwright.service.device.RuleHelp;
import dev.pinwright.service.device.Tags;
import dev.pinwright.service.directory.Directories;
import dev.pinwright.service.directory.HolderSignIn;
import dev.pinwright.service.enrollment.EnrollmentProfiles;
import dev.pinwright.service.enrollment.HolderPreview;
import dev.pinwright.service.file.StoredFiles;
import dev.pinwright.service.file.Uploads;
import dev.pinwright.service.gateway.Gateways;
import dev.pinwright.service.gateway.PushServices;
import dev.pinwright.service.gateway.Registrar;
import dev.pinwright.service.gateway.Store;
import dev.pinwright.service.group.Membership;
import dev.pinwright.service.holder.Holders;
import dev.pinwright.service.house.Connections;
import dev.pinwright.service.house.HouseNotices;
import dev.pinwright.service.house.Mailer;
import dev.pinwright.service.house.SetUpList;
import dev.pinwright.service.identity.Authority;
import dev.pinwright.service.identity.DeviceCertificates;
import dev.pinwright.service.invitation.BulkInvitations;
import dev.pinwright.service.invitation.InvitationMail;
import dev.pinwright.service.invitation.Invitations;
import dev.pinwright.service.journal.Journal;
import dev.pinwright.service.journal.JournalSeal;
import dev.pinwright.service.license.HandOut;
import dev.pinwright.service.license.Licenses;
import dev.pinwright.service.live.Events;
import dev.pinwright.service.live.Wakes;
import dev.pinwright.service.lost.LostCases;
import dev.pinwright.service.naming.NamePreview;
import dev.pinwright.service.naming.Sequences;
import dev.pinwright.service.organisation.Attributes;
import dev.pinwright.service.organisation.OrganisationSheets;
import dev.pinwright.service.organisation.People;
import dev.pinwright.service.organisation.Sites;
import dev.pinwright.service.organisation.Units;
import dev.pinwright.service.own.ExitCodes;
import dev.pinwright.service.own.RecoveryKeys;
import dev.pinwright.service.own.Selves;
import dev.pinwright.service.own.Trails;
import dev.pinwright.service.place.HouseMap;
import dev.pinwright.service.proposal.Deeds;
import dev.pinwright.service.proposal.HouseThresholds;
import dev.pinwright.service.proposal.Proposals;
import dev.pinwright.service.roster.Roster;
import dev.pinwright.service.roster.RosterImports;
import dev.pinwright.service.rules.Baseline;
import dev.pinwright.service.rules.PasscodeTrial;
import dev.pinwright.service.rules.ProfileFiles;
import dev.pinwright.service.rules.Profiles;
import dev.pinwright.service.rules.Publishing;
import dev.pinwright.service.rules.RollOuts;
import dev.pinwright.service.rules.Undo;
import dev.pinwright.service.rules.Waves;
import dev.pinwright.service.screen.Assists;
import dev.pinwright.service.screen.Screenshots;
import dev.pinwright.service.secret.Vault;
import dev.pinwright.service.session.DeviceSessions;
import dev.pinwright.service.shape.Shapes;
import dev.pinwright.service.terms.HolderTerms;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Settings;
import dev.pinwright.storage.Database;
import dev.pinwright.storage.Notices;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/** One node of the service, put together. */
public final class Pinwright implements AutoCloseable {
  private final Database database;
  private final Notices channel;
  private final Jobs jobs;
  private final Settings settings;
  private final Catalogue catalogue;
  private final Events events;
  private final Wakes wakes;
  private final Journal journal;
  private final Authority authority;
  private final Accounts accounts;
  private final ListLayouts listLayouts;
  private final DeviceCertificates certificates;
  private final EnrollmentProfiles enrollmentProfiles;
  private final Invitations invitations;
  private final HolderTerms terms;
  private final HolderPreview holderPreview;
  private final Bench bench;
  private final BenchCable benchCable;
  private final BenchWork benchWork;
  private final Connections connections;
  private final Mailer mailer;
  private final Directories directories;
  private final Registrar registrar;
  private final Gateways gateways;
  private final HouseNotices notices;
  private final SetUpList setUpList;
  private final BulkInvitations bulkInvitations;
  private final Joining joining;
  private final Arrivals arrivals;
  private final Devices devices;
  private final DeviceEdits deviceEdits;
  private final DeviceList deviceList;
  private final DeviceSheets deviceSheets;
  private final Tags tags;
  private final Groups groups;
  private final RuleHelp ruleHelp;
  private final Units units;
  private final Sites sites;
  private final People people;
  private final Leaving leaving;
  private final Replacement replacement;
  private final Attributes attributes;
  private final OrganisationSheets sheets;
  private final Sequences sequences;
  private final Roster roster;
  private final RosterImports rosterImports;
  private final StoredFiles files;
  private final Profiles profiles;
  private final RecoveryKeys recoveryKeys;
  private final Trails trails;
  private final Apps apps;
  private final WebApps webApps;
  private final AppSources appSources;
  private final Uploads uploads;
  private final ConfigurationCodes configurationCodes;
  private final Releases releases;
  private final DeviceApps deviceApps;
  private final StoreApps storeApps;
  private final Licenses licenses;
  private final SiteCaches siteCaches;
  private final Waves waves;
  private final Checks checks;
  private final Orders orders;
  private final ProfileFiles profileFiles;
  private final Configurations configurations;
  private final PasscodeTrial passcodeTrial;
  private final NamePreview namePreview;
  private final Baseline baseline;
  private final Publishing publishing;
  private final Undo undo;
  private final Proposals proposals;
  private final HouseThresholds thresholds;
  private final Changes changes;
  private final Dispatches dispatches;
  private final CommandHistory commandHistory;
  private final Wipes wipes;
  private final LostCases lostCases;
  private final HouseMap houseMap;
  private final StandingOrders standingOrders;
  private final Outputs outputs;
  private final Queues queues;
  private final MessageTemplates messageTemplates;
  private final Assists assists;
  private final Screenshots screenshots;
  private final Holders holders;
  private final DeviceSessions sessions;
  private final LastSeen lastSeen;
  private final ExitCodes exitCodes;
  private final Search search;
  private final Optional<String> ownerPassword;

  /**
   * Starts a node.
   *
   * @throws IllegalStateException when the database cannot be reached or made ready
   * @throws IllegalArgumentException when the catalogue is unsound
   */
  public Pinwright(Settings settings, Clock clock) {
    this.settings = settings;
    catalogue = Catalogue.load();
    Vault vault = Vault.at(settings.home());
    database = Database.open(settings.database());
    channel = new Notices(database);
    events = new Events(database, channel);
    wakes = new Wakes(database, channel);
    journal =
        new Journal(database, clock, events, Optional.of(new JournalSeal(settings.home(), vault)));
    UseCases useCases = new UseCases(database, journal, events, clock);
    authority = new Authority(database, vault, settings.deviceNames(), clock);
    accounts = new Accounts(useCases, database, vault, clock);
    listLayouts = new ListLayouts(useCases);
    certificates = new DeviceCertificates(useCases, database, authority, clock);
    var catalog = catalogue.catalog();
    Membership membership = new Membership(clock);
    Shapes shapes = new Shapes(catalog, vault, membership, clock);
    Selves selves = new Selves(vault, catalog, authority.recovery().certificate());
    enrollmentProfiles = new EnrollmentProfiles(useCases, catalogue);
    holderPreview = new HolderPreview(useCases, catalogue, settings.organisation());
    terms = new HolderTerms(useCases, catalogue);
    connections = new Connections(useCases, vault);
    mailer = new Mailer(connections, settings.organisation());
    directories = new Directories(useCases, connections);
    registrar = new Registrar(useCases, vault, authority, settings.deviceBase());
    gateways = new Gateways(useCases, catalog, vault, settings.organisation(), registrar, clock);
    notices = new HouseNotices(useCases, mailer);
    setUpList = new SetUpList(gateways, connections);
    wakes.through(new PushServices(database, vault, clock));
    invitations = new Invitations(useCases, vault, authority, settings.deviceBase());
    bulkInvitations = new BulkInvitations(useCases, invitations, directories);
    bench = new Bench(useCases, vault, invitations);
    benchWork = new BenchWork(useCases, catalog, settings.deviceBase());
    benchCable = new BenchCable(useCases, vault, benchWork);
    WipeCourse wipeCourse = new WipeCourse(shapes);
    wipes = new Wipes(useCases, database, wipeCourse, gateways, clock);
    joining =
        new Joining(
            useCases,
            database,
            catalogue,
            settings,
            authority,
            shapes,
            gateways,
            new HolderSignIn(directories),
            wipeCourse,
            clock);
    arrivals = new Arrivals(useCases);
    changes = new Changes(useCases, catalog, shapes, membership, clock);
    devices = new Devices(useCases, catalog, shapes, changes);
    deviceEdits = new DeviceEdits(useCases, changes);
    units = new Units(useCases, changes);
    sites = new Sites(useCases);
    people = new People(useCases);
    leaving = new Leaving(useCases, changes);
    replacement = new Replacement(useCases, changes);
    attributes = new Attributes(useCases, changes);
    sheets = new OrganisationSheets(useCases);
    sequences = new Sequences(useCases);
    roster = new Roster(useCases);
    rosterImports = new RosterImports(useCases);
    deviceList = new DeviceList(useCases);
    tags = new Tags(useCases);
    deviceSheets = new DeviceSheets(useCases, changes);
    groups = new Groups(useCases, changes, membership);
    orders = new Orders(useCases, changes);
    checks = new Checks(useCases, groups, orders, catalogue.checks());
    ruleHelp = new RuleHelp(useCases, catalog);
    files = new StoredFiles(useCases, database);
    uploads = new Uploads(useCases);
    profiles = new Profiles(useCases, catalog, vault);
    passcodeTrial = new PasscodeTrial(catalog);
    profileFiles = new ProfileFiles(useCases, catalog, vault, profiles);
    baseline = new Baseline(catalogue, profiles);
    namePreview = new NamePreview(useCases);
    waves = new Waves(useCases, catalog, changes, vault);
    publishing = new Publishing(useCases, catalog, vault, changes, waves);
    SystemApps.keep(useCases, catalog);
    apps = new Apps(useCases, catalog, shapes);
    webApps = new WebApps(useCases, catalog, apps, files, authority.signer());
    configurationCodes =
        new ConfigurationCodes(
            useCases,
            vault,
            authority,
            settings,
            new Throttle(database, clock, "configuration addresses", 60, Duration.ofMinutes(1)));
    deviceApps = new DeviceApps(useCases, shapes);
    Store store = new Store(useCases, vault);
    storeApps = new StoreApps(useCases, catalog, apps, store);
    licenses = new Licenses(useCases, store, storeApps);
    siteCaches = new SiteCaches(useCases, authority, settings.deviceBase(), settings.deviceNames());
    HandOut handOut = new HandOut(useCases, shapes, store, storeApps);
    releases =
        new Releases(useCases, apps, new RollOuts(catalog, vault, changes, publishing, waves));
    appSources = new AppSources(useCases, apps, releases);
    undo = new Undo(useCases, deviceEdits, publishing);
    configurations =
        new Configurations(
            useCases, catalogue, vault, changes, membership, checks, groups, publishing);
    dispatches = new Dispatches(useCases, catalog, shapes, vault);
    commandHistory = new CommandHistory(useCases, catalogue.catalog());
    proposals =
        new Proposals(
            useCases,
            new Deeds(
                profiles,
                publishing,
                undo,
                changes,
                deviceEdits,
                groups,
                checks,
                units,
                configurations,
                dispatches));
    standingOrders = new StandingOrders(useCases, catalog, dispatches);
    outputs = new Outputs(useCases);
    queues = new Queues(useCases);
    messageTemplates = new MessageTemplates(useCases, catalog);
    assists = new Assists(useCases, channel, settings.nodeBase());
    screenshots = new Screenshots(useCases, vault);
    houseMap = new HouseMap(useCases);
    lostCases = new LostCases(useCases, dispatches, wipes, settings.organisation());
    holders =
        new Holders(
            useCases, database, catalogue, directories, dispatches, lostCases, deviceApps, clock);
    thresholds = new HouseThresholds(useCases, accounts);
    lastSeen = new LastSeen(database);
    trails = new Trails(useCases);
    recoveryKeys = new RecoveryKeys(useCases, authority.recovery());
    sessions =
        new DeviceSessions(
            useCases,
            database,
            authority,
            certificates,
            lastSeen,
            catalog,
            shapes,
            selves,
            recoveryKeys,
            trails,
            wipeCourse,
            settings.deviceBase(),
            // people find connections free, however many devices speak
            Math.max(1, settings.database().connections() / 2),
            vault,
            journal,
            clock);
    sessions.whenOver(wakes::over);
    exitCodes = new ExitCodes(useCases, shapes, selves);
    search = new Search(useCases);
    ownerPassword = accounts.firstOwner(settings.ownerPassword());
    InvitationMail letters =
        new InvitationMail(
            useCases, catalogue, invitations, mailer, authority, settings.organisation());
    jobs =
        new Jobs(
            database,
            events,
            clock,
            settings.silentAfter(),
            List.of(
                new Jobs.Chore(
                    "look-over-shapes",
                    Duration.ofMinutes(10),
                    () -> {
                      if (database.call(shapes::repair) > 0) {
                        events.touch("devices");
                      }
                    }),
                new Jobs.Chore("follow-time", Duration.ofSeconds(30), groups::followTime),
                new Jobs.Chore(
                    "follow-own", Duration.ofSeconds(5), () -> selves.followDue(database)),
                new Jobs.Chore("follow-windows", Duration.ofSeconds(10), publishing::followWindows),
                new Jobs.Chore("begin-planned", Duration.ofSeconds(3), dispatches::begin),
                new Jobs.Chore(
                    "follow-standing-orders", Duration.ofSeconds(5), standingOrders::follow),
                new Jobs.Chore("follow-assists", Duration.ofSeconds(30), assists::follow),
                new Jobs.Chore("forget-screenshots", Duration.ofHours(1), screenshots::tidy),
                new Jobs.Chore("follow-lost", Duration.ofSeconds(5), lostCases::follow),
                new Jobs.Chore("follow-waves", Duration.ofSeconds(10), waves::follow),
                new Jobs.Chore("follow-checks", Duration.ofSeconds(3), orders::follow),
                new Jobs.Chore("clear-files", Duration.ofHours(1), files::clearUnused),
                new Jobs.Chore("clear-uploads", Duration.ofHours(1), uploads::forgetOld),
                new Jobs.Chore("follow-packages", Duration.ofMinutes(15), appSources::follow),
                new Jobs.Chore("forget-trails", Duration.ofHours(6), trails::forget),
                new Jobs.Chore("look-over-groups", Duration.ofMinutes(10), groups::repair),
                new Jobs.Chore("mail-invitations", Duration.ofSeconds(3), letters::sendDue),
                new Jobs.Chore("ask-again", Duration.ofMinutes(10), letters::remindLapsing),
                new Jobs.Chore(
                    "look-at-credentials", Duration.ofSeconds(10), notices::lookAtCredentials),
                new Jobs.Chore("look-around", Duration.ofMinutes(1), notices::lookAround),
                new Jobs.Chore("look-at-roster", Duration.ofHours(1), notices::lookAtRoster),
                new Jobs.Chore("lapse-proposals", Duration.ofMinutes(5), proposals::lapse),
                new Jobs.Chore("seal-journal", Duration.ofMinutes(1), journal::seal),
                new Jobs.Chore("check-sheets", Duration.ofSeconds(5), rosterImports::checkOpen),
                new Jobs.Chore("hand-out-licenses", Duration.ofSeconds(1), handOut::follow),
                new Jobs.Chore("look-at-caches", Duration.ofSeconds(3), siteCaches::follow),
                new Jobs.Chore("read-stores", Duration.ofMinutes(15), storeApps::syncAll),
                new Jobs.Chore("read-registrars", Duration.ofMinutes(15), registrar::syncAll),
                new Jobs.Chore("read-directory", Duration.ofHours(1), directories::syncQuietly)));
  }

  public Settings settings() {
    return settings;
  }

  public Catalogue catalogue() {
    return catalogue;
  }

  public Events events() {
    return events;
  }

  public Wakes wakes() {
    return wakes;
  }

  public Journal journal() {
    return journal;
  }

  public Authority authority() {
    return authority;
  }

  public Accounts accounts() {
    return accounts;
  }

  public ListLayouts listLayouts() {
    return listLayouts;
  }

  public DeviceCertificates certificates() {
    return certificates;
  }

  public EnrollmentProfiles enrollmentProfiles() {
    return enrollmentProfiles;
  }

  public Invitations invitations() {
    return invitations;
  }

  public BenchWork benchWork() {
    return benchWork;
  }

  public BenchCable benchCable() {
    return benchCable;
  }

  public Bench bench() {
    return bench;
  }

  public HolderPreview holderPreview() {
    return holderPreview;
  }

  public HolderTerms terms() {
    return terms;
  }

  public Connections connections() {
    return connections;
  }

  public Mailer mailer() {
    return mailer;
  }

  public Directories directories() {
    return directories;
  }

  public Registrar registrar() {
    return registrar;
  }

  public Gateways gateways() {
    return gateways;
  }

  public HouseNotices notices() {
    return notices;
  }

  public SetUpList setUpList() {
    return setUpList;
  }

  public BulkInvitations bulkInvitations() {
    return bulkInvitations;
  }

  public Joining joining() {
    return joining;
  }

  public Arrivals arrivals() {
    return arrivals;
  }

  public Devices devices() {
    return devices;
  }

  public DeviceEdits deviceEdits() {
    return deviceEdits;
  }

  public DeviceList deviceList() {
    return deviceList;
  }

  public DeviceSheets deviceSheets() {
    return deviceSheets;
  }

  public Tags tags() {
    return tags;
  }

  public RuleHelp ruleHelp() {
    return ruleHelp;
  }

  public Groups groups() {
    return groups;
  }

  public Units units() {
    return units;
  }

  public Sites sites() {
    return sites;
  }

  public People people() {
    return people;
  }

  public Leaving leaving() {
    return leaving;
  }

  public Replacement replacement() {
    return replacement;
  }

  public Attributes attributes() {
    return attributes;
  }

  public OrganisationSheets organisationSheets() {
    return sheets;
  }

  public Sequences sequences() {
    return sequences;
  }

  public Roster roster() {
    return roster;
  }

  public RosterImports rosterImports() {
    return rosterImports;
  }

  public PasscodeTrial passcodeTrial() {
    return passcodeTrial;
  }

  public ConfigurationCodes configurationCodes() {
    return configurationCodes;
  }

  public AppSources appSources() {
    return appSources;
  }

  public Uploads uploads() {
    return uploads;
  }

  public WebApps webApps() {
    return webApps;
  }

  public Apps apps() {
    return apps;
  }

  public Releases releases() {
    return releases;
  }

  public DeviceApps deviceApps() {
    return deviceApps;
  }

  public StoreApps storeApps() {
    return storeApps;
  }

  public SiteCaches siteCaches() {
    return siteCaches;
  }

  public Licenses licenses() {
    return licenses;
  }

  public Waves waves() {
    return waves;
  }

  public Trails trails() {
    return trails;
  }

  public RecoveryKeys recoveryKeys() {
    return recoveryKeys;
  }

  public Checks checks() {
    return checks;
  }

  public Orders orders() {
    return orders;
  }

  public Configurations configurations() {
    return configurations;
  }

  public ProfileFiles profileFiles() {
    return profileFiles;
  }

  public StoredFiles files() {
    return files;
  }

  public Profiles profiles() {
    return profiles;
  }

  public NamePreview namePreview() {
    return namePreview;
  }

  public Baseline baseline() {
    return baseline;
  }

  public Proposals proposals() {
    return proposals;
  }

  public HouseThresholds thresholds() {
    return thresholds;
  }

  public Undo undo() {
    return undo;
  }

  public Publishing publishing() {
    return publishing;
  }

  public Changes changes() {
    return changes;
  }

  public CommandHistory commandHistory() {
    return commandHistory;
  }

  public Dispatches dispatches() {
    return dispatches;
  }

  public Holders holders() {
    return holders;
  }

  public MessageTemplates messageTemplates() {
    return messageTemplates;
  }

  public Queues queues() {
    return queues;
  }

  public Outputs outputs() {
    return outputs;
  }

  public Assists assists() {
    return assists;
  }

  public Screenshots screenshots() {
    return screenshots;
  }

  public StandingOrders standingOrders() {
    return standingOrders;
  }

  public HouseMap houseMap() {
    return houseMap;
  }

  public LostCases lostCases() {
    return lostCases;
  }

  public Wipes wipes() {
    return wipes;
  }

  public DeviceSessions sessions() {
    return sessions;
  }

  public ExitCodes exitCodes() {
    return exitCodes;
  }

  public Search search() {
    return search;
  }

  /** The first owner's password, when this start made the account. */
  public Optional<String> ownerPassword() {
    return ownerPassword;
  }

  /** Whether the database answers. */
  public boolean healthy() {
    return database.answers();
  }

  @Override
  public void close() {
    jobs.close();
    rosterImports.close();
    wakes.close();
    events.close();
    sessions.close();
    lastSeen.close();
    channel.close();
    database.close();
  }
}
