/** Serves the built application for the browser tests. */
import { spawn } from 'node:child_process';
import { setTimeout as wait } from 'node:timers/promises';

export const PORT = 3917;
export const URL = `http://localhost:${PORT}`;

export default async function setup(): Promise<() => void> {
  const server = spawn('bin/serve', { stdio: 'ignore', detached: true, env: { ...process.env, PORT: String(PORT) } });
  for (let i = 0; i < 120; i++) {
    try {
      if ((await fetch(URL)).ok) return () => process.kill(-server.pid!);
    } catch {
      // not up yet
    }
    await wait(250);
  }
  process.kill(-server.pid!);
  throw new Error('The application did not start.');
}
