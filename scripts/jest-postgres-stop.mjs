export default function stop() {
  globalThis.gateRosterPostgres?.stop();
}
