import { fileText } from '@rondo/core/formats';

/** Has the browser save a file under a name made of words. */
export function saveFile(name: string, content: unknown): void {
  const stem = name
    .normalize('NFKD')
    .replace(/[^a-zA-Z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .toLowerCase();
  const url = URL.createObjectURL(new Blob([fileText(content)], { type: 'application/json' }));
  const link = document.createElement('a');
  link.href = url;
  link.download = `${stem || 'rondo'}.json`;
  link.click();
  // The browser has begun to save it by then.
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
