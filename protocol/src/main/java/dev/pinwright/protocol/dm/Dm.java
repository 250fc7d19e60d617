package dev.pinwright.protocol.dm;

import dev.pinwright.core.session.Subtree;

/** Numbers and names of OMA DM 1.2 and of Pinwright's subtree. */
public final class Dm {
  public static final int OK = 200;
  public static final int ACCEPTED = 202;
  public static final int AUTHENTICATED = 212;
  public static final int CANCELLED = 214;
  public static final int NOT_EXECUTED = 215;
  public static final int ROLLED_BACK = 216;
  public static final int NOT_FOUND = 404;
  public static final int NOT_ALLOWED = 405;
  public static final int NOT_SUPPORTED = 406;
  public static final int TOO_LARGE = 413;
  public static final int EXISTS = 418;
  public static final int DENIED = 425;
  public static final int FAILED = 500;
  public static final int ATOMIC_FAILED = 507;

  /** User-interaction alert that shows a text. */
  public static final int ALERT_SHOW = 1100;

  /** User-interaction alert that asks yes or no. */
  public static final int ALERT_CONFIRM = 1101;

  /** User-interaction alert that asks for one of several choices. */
  public static final int ALERT_CHOICE = 1103;

  public static final int ALERT_SERVER_INITIATED = 1200;
  public static final int ALERT_CLIENT_INITIATED = 1201;
  public static final int ALERT_NEXT_MESSAGE = 1222;
  public static final int ALERT_ABORT = 1223;
  public static final int ALERT_GENERIC = 1226;

  /** Alert type carrying the digest of the policy subtree. */
  public static final String TYPE_TREE_DIGEST = Subtree.POLICY.digestAlert();

  /** Alert type saying that some fact is not what it was when last read. */
  public static final String TYPE_FACTS_CHANGED = "urn:pinwright:at:facts-changed:1";

  /** Alert type by which a device says that its management ended; see {@link Leavings}. */
  public static final String TYPE_MANAGEMENT_ENDED = "urn:pinwright:at:management-ended:1";

  /**
   * Alert type by which a device says that a wipe begins, or that it did not come to that (OMA
   * LAWMO 1.0); the data is a result code, 1200 for "it begins".
   */
  public static final String TYPE_LAWMO_DONE = "urn:oma:at:lawmo:1.0:OperationComplete";

  /** What a wipe of the organisation's part takes (OMA LAWMO 1.0). */
  public static final String WIPE_LIST = "./LAWMO/AvailableWipeList";

  /** Alert type telling that the holder read a message; the correlator is that of the message. */
  public static final String TYPE_MESSAGE_READ = "urn:pinwright:at:message-read:1";

  /** A picture of the screen was handed in; its data is where, its correlator the command. */
  public static final String TYPE_SCREENSHOT = "urn:pinwright:at:screenshot:1";

  /** A script ended; its data is the exit code, a line feed, and the end of what it wrote. */
  public static final String TYPE_SCRIPT_END = "urn:pinwright:at:script-end:1";

  /** What runs on it; its data is JSON. */
  public static final String TYPE_PROCESSES = "urn:pinwright:at:processes:1";

  /** Alert type reporting the end of an operation; the data is its status code. */
  public static final String TYPE_OPERATION = "urn:pinwright:at:operation:1";

  /** Alert type carrying a key that opens the device's disk, wrapped. */
  public static final String TYPE_RECOVERY_KEY = "urn:pinwright:at:recovery-key:1";

  /** Alert type telling where the device was; see {@link Positions}. */
  public static final String TYPE_POSITION = "urn:pinwright:at:position:1";

  /** Alert type telling that a kiosk was left by a code, and when. */
  public static final String TYPE_KIOSK_LEFT = "urn:pinwright:at:kiosk-left:1";

  /** Alert type telling that an app was installed or removed, or was not (OMA SCOMO 1.0). */
  public static final String TYPE_APP_DONE = "urn:oma:at:scomo:1.0:OperationComplete";

  /** Alert type telling that the holder picked something from the shelf; the data is its node. */
  public static final String TYPE_SHELF_WISH = "urn:pinwright:at:shelf-wish:1";

  /** Where a device is told of an app to fetch; the next part is a name of the server's. */
  public static final String DOWNLOAD = "./SCM/Download/";

  /** The operation of a download that fetches and installs it. */
  public static final String DOWNLOAD_INSTALL = "/Operations/DownloadInstall";

  /** The operation of a deployed app that takes it away. */
  public static final String REMOVE = "/Operations/Remove";

  /** Below the node of an app: lets it be opened again (OMA SCOMO 1.0). */
  public static final String ACTIVATE = "/Operations/Activate";

  /** What the holder may pick; the next part is an app's id. */
  public static final String SHELF = "./Vendor/Pinwright/Shelf/";

  /** The operation that leaves the kiosk. */
  public static final String LEAVE_KIOSK = "./Vendor/Pinwright/Operations/LeaveKiosk";

  public static final String FACTS = "./Vendor/Pinwright/Facts";

  /** Leaf that tells a device how far it is from being handed over. */
  public static final String READY_GATE = "./Vendor/Pinwright/ReadyGate";

  /** Whether the device is in order: {@code in-order}, {@code in-grace} or {@code out-of-order}. */
  public static final String COMPLIANCE_STATE = "./Vendor/Pinwright/Compliance/State";

  /** Why it is not, one reason a line. */
  public static final String COMPLIANCE_REASONS = "./Vendor/Pinwright/Compliance/Reasons";

  public static final String DEV_INFO = "./DevInfo/";

  /** Appended to a LocURI to read a whole subtree at once (OMA DM TND 1.2, 6.5). */
  public static final String STRUCT_DATA = "?list=StructData";

  private Dm() {}
}
