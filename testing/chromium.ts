/**
 * How Debian's Chromium is started, in tests, measurements and pictures alike: no browser is downloaded, no network is
 * asked. The shell without a desktop's window draws the same pages for two thirds of the computer's time.
 */
export const LAUNCH = {
  executablePath: "/usr/bin/chromium-headless-shell",
  args: [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
  ],
};

/** What it shows, and where its reader is. */
export const READER = {
  viewport: { width: 1280, height: 800 },
  locale: "en-GB",
  timezoneId: "Europe/London",
};
