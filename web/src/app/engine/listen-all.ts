import type { EngineService } from './engine.service';

/**
 * Hears everything that any allowed input brings, and keeps it from the engine meanwhile: nothing that is touched plays.
 * Asks the browser for MIDI where that was not done yet.
 * @param isWanted asked again after the browser's question, which may have taken long
 * @returns what ends it; null where it is not wanted any more
 */
export async function listenAll(
  engine: EngineService,
  hear: (input: string, bytes: Uint8Array) => void,
  isWanted: () => boolean,
): Promise<(() => void) | null> {
  const { midi, ports } = engine;
  if (!midi.state().startsWith('granted')) await midi.ask();
  if (!isWanted()) return null;
  ports.divert(true);
  const ends = [() => ports.divert(false), ports.watchAll(), midi.watch(hear)];
  return () => {
    for (const end of ends) end();
  };
}
