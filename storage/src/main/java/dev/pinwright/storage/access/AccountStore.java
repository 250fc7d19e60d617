package dev.pinwright.storage.access;

import dev.pinwright.storage.Tx;
import dev.pinwright.storage.row.AccountRow;
import dev.pinwright.storage.row.SignInRow;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Accounts and their sign-ins. */
public final class AccountStore {
  private static final long FIRST = 7448;
  private static final int MOST = 500;

  private final Tx tx;

  public AccountStore(Tx tx) {
    this.tx = tx;
  }

  /** Whether there is an account; nobody else makes the first one until the transaction ends. */
  public boolean any() {
    tx.advisoryLock(FIRST);
    return tx.any("select 1 from account", Map.of());
  }

  /** The account of a login in small letters. */
  public Optional<AccountRow> byLogin(String login) {
    return tx
        .list(AccountRow.class, "from AccountRow where login = :l", Map.of("l", login), 1)
        .stream()
        .findFirst();
  }

  /** How many accounts may change things and can sign in. */
  public long deciding() {
    return tx.value(
        "select count(*) from account where role in ('owner', 'operator') and disabled_at is null",
        Long.class,
        Map.of());
  }

  /** Accounts by login. */
  public List<AccountRow> all() {
    return tx.list(AccountRow.class, "from AccountRow order by login", Map.of(), MOST);
  }

  /**
   * Whether another owner than this one can sign in; nobody shuts or demotes one until the
   * transaction ends.
   */
  public boolean anotherOwner(String but) {
    tx.advisoryLock(FIRST);
    tx.flush();
    return tx.any(
        "select 1 from account where role = 'owner' and disabled_at is null and id <> :id",
        Map.of("id", but));
  }

  /** Sign-ins of an account that go on, newest first. */
  public List<SignInRow> signIns(String accountId, Instant now) {
    return tx.list(
        SignInRow.class,
        "from SignInRow where accountId = :a and expiresAt > :now order by createdAt desc",
        Map.of("a", accountId, "now", now),
        MOST);
  }

  /** Ends a sign-in of an account; false when there is none of this id. */
  public boolean end(String accountId, String signInId) {
    return tx.execute(
            "delete from sign_in where account_id = :a and id = :id",
            Map.of("a", accountId, "id", signInId))
        > 0;
  }

  /** Ends every sign-in of an account but one; says how many. */
  public int endAll(String accountId, String butTokenHash) {
    return tx.execute(
        "delete from sign_in where account_id = :a and token_hash <> :t",
        Map.of("a", accountId, "t", butTokenHash));
  }

  /** Forgets sign-ins that have ended. */
  public void tidy(Instant now) {
    tx.execute("delete from sign_in where expires_at < :now", Map.of("now", now));
  }
}
