/** What a number may be. */
export interface Limits {
  readonly min?: number;
  readonly max?: number;
  /** Whether nothing at all is an answer. */
  readonly mayBeEmpty: boolean;
}

/**
 * What becomes of what was typed into a field for a number.
 * @returns the number within its limits, null for none, undefined where it stays as it was; and what there is to say of it
 */
export function settled(
  typed: string,
  { min = -Infinity, max = Infinity, mayBeEmpty }: Limits,
): { value: number | null | undefined; said: string } {
  const text = typed.trim().replace(',', '.');
  if (text === '' && mayBeEmpty) return { value: null, said: '' };
  const number = text === '' ? NaN : Number(text);
  if (!Number.isFinite(number))
    return { value: undefined, said: 'That is no number: it stays as it was.' };
  if (number > max) return { value: max, said: `Brought to ${max}, the most.` };
  if (number < min) return { value: min, said: `Brought to ${min}, the least.` };
  return { value: number, said: '' };
}
