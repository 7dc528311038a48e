import { readConfig } from './config';
import { startStandins } from './standins';

const standins = await startStandins(readConfig(process.env));
console.log('stand-ins up');
const stop = (): void => {
  void standins.close().then(() => process.exit(0));
};
process.once('SIGTERM', stop);
process.once('SIGINT', stop);
