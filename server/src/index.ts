export { connect, type Database, migrate, oneRow, rows, type Transaction } from './database/connect.ts';
export { rebuildDerived } from './database/rebuild.ts';
export { settle } from './seats/settle.ts';
export { hashPassword } from './accounts/password.ts';
export { forgetStandings, keepStandings } from './progress/standings.ts';
export { openRounds } from './progress/rounds.ts';
export { readEnvironment } from './environment.ts';
export { hasSite, type Running, serve } from './serve.ts';
export { playerKey } from './player/player.ts';
