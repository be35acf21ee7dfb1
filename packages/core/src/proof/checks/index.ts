export * from './check';
export * from './cures';
export { checkContact, checkHalo, checkTorn } from './outline';
export * from './pictures';
export * from './framing';
