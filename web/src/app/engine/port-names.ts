/** A port as people choose it. */
export interface Named {
  readonly id: string;
  readonly name: string;
}

/** A port that was chosen, and what it takes to find it again. */
export interface Chosen extends Named {
  /** There was another port of its name: by its name alone it cannot be told from that. */
  readonly twin?: boolean | undefined;
}

/** Names that tell ports apart: of several with one name, each says which it is. */
export function tellApart<T extends Named>(
  ports: readonly T[],
): (T & { readonly label: string })[] {
  return ports.map((port) => {
    const twins = ports.filter(({ name }) => name === port.name);
    const which = twins.length > 1 ? ` (${twins.indexOf(port) + 1} of ${twins.length})` : '';
    return { ...port, label: port.name + which };
  });
}

/** A port as it is chosen among others. */
export const chosenOf = ({ id, name }: Named, ports: readonly Named[]): Chosen =>
  ports.some((other) => other.id !== id && other.name === name)
    ? { id, name, twin: true }
    : { id, name };

/**
 * The chosen port among those that are here now: by its id, or by its name where its id has changed, as after another
 * socket. One that had a twin is never taken for that, nor is one of two that have its name now.
 */
export function findPort(wanted: Chosen | null, ports: readonly Named[]): Chosen | null {
  if (!wanted || ports.some(({ id }) => id === wanted.id)) return wanted;
  const alike = ports.filter(({ name }) => name === wanted.name);
  return wanted.twin || alike.length !== 1 ? wanted : chosenOf(alike[0], ports);
}
