package dev.pinwright.service.rules;

import dev.pinwright.core.change.Confirmation;
import dev.pinwright.service.change.Changes;
import dev.pinwright.service.device.DeviceEdits;
import dev.pinwright.service.usecase.UseCases;
import dev.pinwright.service.work.Caller;
import dev.pinwright.service.work.Problem;
import dev.pinwright.storage.change.ChangeStore;
import dev.pinwright.storage.row.ChangeRow;

/** Takes changes back, whatever made them: an edit of many devices, or a publication. */
public final class Undo {
  private final UseCases useCases;
  private final DeviceEdits edits;
  private final Publishing publishing;

  public Undo(UseCases useCases, DeviceEdits edits, Publishing publishing) {
    this.useCases = useCases;
    this.edits = edits;
    this.publishing = publishing;
  }

  private boolean isPublication(String changeId) {
    ChangeRow change =
        useCases.read(
            tx ->
                new ChangeStore(tx)
                    .find(changeId)
                    .orElseThrow(() -> Problem.notFound("change", changeId)));
    return change.profileId != null && change.version != null;
  }

  /** Says what taking a change back would do; nothing is stored. */
  public DeviceEdits.Rehearsed rehearse(Caller caller, String changeId) {
    return isPublication(changeId)
        ? DeviceEdits.Rehearsed.ofSettings(publishing.rehearseUndo(caller, changeId))
        : edits.rehearseUndo(caller, changeId);
  }

  /**
   * Takes a change back, as one change.
   *
   * @throws Problem 409 when there is nothing to take back, or what is asked for is missing
   */
  public Changes.Change undo(Caller caller, String changeId, Confirmation given) {
    return isPublication(changeId)
        ? publishing.undo(caller, changeId, given)
        : edits.undo(caller, changeId, given);
  }
}
