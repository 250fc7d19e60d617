package dev.pinwright.sandbox.office;

import dev.pinwright.sandbox.file.PrivateFiles;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The one machine a site has for its cache: Debian's nginx, set up by the script the service
 * writes. What was set up before goes on when the sandbox starts again, where there is an nginx.
 */
public final class SiteServer implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(SiteServer.class);
  private static final int PATIENCE_SECONDS = 60;

  private final Path folder;
  private final int port;

  /**
   * @param port it serves at, once it is set up
   */
  public SiteServer(Path folder, int port) {
    this.folder = folder.toAbsolutePath();
    this.port = port;
    if (Files.exists(this.folder.resolve("chain.pem"))) {
      nginx();
    }
  }

  /** Where it is, once it is set up. */
  public String address() {
    return "https://127.0.0.1:" + port;
  }

  /** Whether there is an nginx to be set up. */
  public boolean able() {
    return run(List.of("nginx", "-v"));
  }

  /** Runs the script it is set up by; whether that went well. */
  public boolean setUp(String script) {
    try {
      PrivateFiles.directory(folder);
      Path file = folder.resolve("set-up.sh");
      PrivateFiles.replace(file, script.getBytes());
      return run(List.of("sh", file.toString(), folder.toString()));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private boolean nginx(String... more) {
    List<String> command =
        new ArrayList<>(
            List.of("nginx", "-p", folder.toString(), "-c", "nginx.conf", "-e", "logs/error.log"));
    command.addAll(List.of(more));
    return run(command);
  }

  private boolean run(List<String> command) {
    try {
      Process p =
          new ProcessBuilder(command)
              .redirectErrorStream(true)
              .redirectOutput(ProcessBuilder.Redirect.DISCARD)
              .start();
      return p.waitFor(PATIENCE_SECONDS, TimeUnit.SECONDS) && p.exitValue() == 0;
    } catch (IOException e) {
      LOG.info("{} cannot be run: {}", command.get(0), e.getMessage());
      return false;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return false;
    }
  }

  @Override
  public void close() {
    if (Files.exists(folder.resolve("nginx.pid"))) {
      nginx("-s", "stop");
    }
  }
}
