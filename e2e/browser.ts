/** How Debian's Chromium is started without a monitor and without calling anybody. */
export const chromium = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--force-color-profile=srgb',
    '--font-render-hinting=none',
  ],
}
