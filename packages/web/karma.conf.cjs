// Units in Debian's Chromium. The closing line is the one that `npm test` adds up.
function CountReporter() {
  this.onRunComplete = (_browsers, { success, failed, error }) => {
    process.stdout.write(`\n${success} passed, ${failed + (error && failed === 0 ? 1 : 0)} failed\n`);
  };
}

module.exports = (config) =>
  config.set({
    frameworks: ['jasmine'],
    plugins: [
      require('karma-jasmine'),
      require('karma-chrome-launcher'),
      { 'reporter:count': ['type', CountReporter] },
    ],
    reporters: ['dots', 'count'],
    browsers: ['Quiet'],
    customLaunchers: {
      Quiet: {
        base: 'ChromeHeadless',
        flags: [
          '--no-sandbox',
          '--disable-gpu',
          '--disable-background-networking',
          '--disable-component-update',
          '--disable-sync',
          '--no-first-run',
        ],
      },
    },
    browserNoActivityTimeout: 120_000,
    restartOnFileChange: false,
  });
