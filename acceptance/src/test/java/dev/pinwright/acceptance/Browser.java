package dev.pinwright.acceptance;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.openqa.selenium.By;
import org.openqa.selenium.Dimension;
import org.openqa.selenium.Keys;
import org.openqa.selenium.OutputType;
import org.openqa.selenium.StaleElementReferenceException;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.interactions.Actions;
import org.openqa.selenium.support.ui.Select;
import org.openqa.selenium.support.ui.WebDriverWait;

/** Headless Chromium, as a person would use it: by labels, buttons and what is to be read. */
final class Browser implements AutoCloseable {
  private static final Duration PATIENCE = Duration.ofSeconds(15);
  private static final Duration LOOKS_EVERY = Duration.ofMillis(50);

  /** Height that headless Chromium takes from its window for itself. */
  private static final int TOOLBAR = 143;

  private final ChromeDriver driver;

  Browser() {
    ChromeOptions options = new ChromeOptions();
    options.setBinary("/usr/bin/chromium");
    try {
      options.addArguments(
          "--headless=new",
          "--no-sandbox",
          "--disable-gpu",
          "--disable-quic",
          "--no-first-run",
          "--disable-background-networking",
          "--disable-component-update",
          "--disable-sync",
          "--disable-dev-shm-usage",
          "--window-size=1280,800",
          "--user-data-dir=" + Files.createTempDirectory("pinwright-browser"));
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
    driver =
        new ChromeDriver(
            new ChromeDriverService.Builder()
                .usingDriverExecutable(new java.io.File("/usr/bin/chromedriver"))
                .build(),
            options);
    driver.manage().window().setSize(new Dimension(1280, 800 + TOOLBAR));
  }

  /** Becomes as wide and high as a phone, with a finger for a mouse. */
  void phone() {
    driver.executeCdpCommand(
        "Emulation.setDeviceMetricsOverride",
        Map.of("width", 390, "height", 844, "deviceScaleFactor", 1, "mobile", true));
  }

  /** Is as wide and high as its window again. */
  void desk() {
    driver.executeCdpCommand("Emulation.clearDeviceMetricsOverride", Map.of());
  }

  void open(String url) {
    driver.get(url);
  }

  /** Opens a page in a tab of its own and returns to go back to. */
  String tab(String url) {
    String before = driver.getWindowHandle();
    driver.switchTo().newWindow(org.openqa.selenium.WindowType.TAB);
    driver.get(url);
    return before;
  }

  String here() {
    return driver.getWindowHandle();
  }

  void switchTo(String handle) {
    driver.switchTo().window(handle);
  }

  private WebDriverWait waiting() {
    return new WebDriverWait(driver, PATIENCE, LOOKS_EVERY);
  }

  /** Waits for an element that can be seen. */
  WebElement see(By by) {
    return waiting()
        .ignoring(StaleElementReferenceException.class)
        .withMessage(() -> "looking for " + by + "; the page says:\n" + text())
        .until(
            d -> {
              List<WebElement> found = d.findElements(by);
              return found.stream().filter(WebElement::isDisplayed).findFirst().orElse(null);
            });
  }

  /** Waits until the page says something. */
  void read(String words) {
    waiting()
        .withMessage(() -> "waiting to read '" + words + "'; the page says:\n" + text())
        .until(d -> text().contains(words));
  }

  /** What the page says; what stands beside each other in a table is parted by a space. */
  String text() {
    return (String)
        script("return (document.body?.innerText ?? '').replace(/[\\t\\u00a0]+/g, ' ')");
  }

  /** Drags something onto something else, as a hand would: in steps. */
  void drag(WebElement what, WebElement onto) {
    new Actions(driver)
        .moveToElement(what)
        .clickAndHold()
        .moveByOffset(8, 8)
        .moveToElement(onto)
        .pause(Duration.ofMillis(200))
        .release()
        .perform();
  }

  /** Chooses a file from the disk, in a field that need not be seen. */
  void give(By field, Path file) {
    waiting()
        .until(d -> d.findElements(field).stream().findFirst().orElse(null))
        .sendKeys(file.toString());
  }

  /** Clicks what is there, as often as it takes while the page is drawn anew. */
  void click(By by) {
    waiting()
        .ignoring(StaleElementReferenceException.class)
        .ignoring(org.openqa.selenium.NoSuchElementException.class)
        .ignoring(org.openqa.selenium.ElementNotInteractableException.class)
        .withMessage(() -> "clicking " + by + "; the page says:\n" + text())
        .until(
            d -> {
              d.findElement(by).click();
              return true;
            });
  }

  /** Presses the button, link, tab or menu entry of this name. */
  void press(String name) {
    By by =
        By.xpath(
            "//*[self::button or self::a or @role='tab'][normalize-space()="
                + quoted(name)
                + " or @aria-label="
                + quoted(name)
                + " or (starts-with(normalize-space(), "
                + quoted(name)
                + ") and @role='menuitem')]");
    waiting()
        .ignoring(StaleElementReferenceException.class)
        .ignoring(org.openqa.selenium.ElementNotInteractableException.class)
        .withMessage(() -> "pressing '" + name + "'; the page says:\n" + text())
        .until(
            d -> {
              WebElement e =
                  d.findElements(by).stream()
                      .filter(x -> x.isDisplayed() && x.isEnabled())
                      .findFirst()
                      .orElse(null);
              if (e == null) {
                return false;
              }
              e.click();
              return true;
            });
  }

  /** Types into the field of this label. */
  void type(String label, String text) {
    WebElement field = field(label);
    field.sendKeys(Keys.chord(Keys.CONTROL, "a"), Keys.DELETE);
    field.sendKeys(text);
  }

  /** Chooses from the list of this label. */
  void choose(String label, String option) {
    waiting()
        .ignoring(org.openqa.selenium.NoSuchElementException.class)
        .until(
            d -> {
              new Select(field(label)).selectByVisibleText(option);
              return true;
            });
  }

  private WebElement field(String label) {
    return see(
        By.xpath(
            "//label[span[normalize-space()="
                + quoted(label)
                + "]]//*[self::input or self::textarea or self::select] | //*[@aria-label="
                + quoted(label)
                + "][self::input or self::textarea or self::select] | //*[@id=//label[span[normalize-space()="
                + quoted(label)
                + "]]/@for] | //input[@placeholder="
                + quoted(label)
                + "]"));
  }

  private static String quoted(String text) {
    return text.contains("'") ? "\"" + text + "\"" : "'" + text + "'";
  }

  void keys(CharSequence... keys) {
    driver.switchTo().activeElement().sendKeys(keys);
  }

  Object script(String js, Object... arguments) {
    return driver.executeScript(js, arguments);
  }

  /** Runs a script that calls its last argument when it is done. */
  Object later(String js, Object... arguments) {
    return driver.executeAsyncScript(js, arguments);
  }

  private static final String AT_REST =
      """
      const done = arguments[arguments.length - 1];
      const end = performance.now() + 5000;
      let quiet = performance.now();
      const seen = new MutationObserver(() => (quiet = performance.now()));
      seen.observe(document, {subtree: true, childList: true, attributes: true, characterData: true});
      const moving = () => document.getAnimations().some(a => a.playState === 'running'
        && a.effect?.getComputedTiming().iterations !== Infinity);
      const look = () => {
        const now = performance.now();
        if (moving() || document.fonts.status !== 'loaded') quiet = now;
        if (now > quiet + 200 || now > end) { seen.disconnect(); done(true); }
        else setTimeout(look, 20);
      };
      look();
      """;

  /** Waits until the page has stood still for a fifth of a second; five seconds at most. */
  void atRest() {
    later(AT_REST);
  }

  /** Takes a picture. */
  void picture(Path file) {
    try {
      atRest();
      Files.createDirectories(file.getParent());
      Files.write(file, driver.getScreenshotAs(OutputType.BYTES));
    } catch (IOException e) {
      throw new IllegalStateException(e);
    }
  }

  @Override
  public void close() {
    driver.quit();
  }
}
