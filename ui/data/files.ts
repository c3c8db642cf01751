import type { Sheet } from '../../api/sheets';

/** Asks for a file of the person's own device. @returns null if none was chosen */
export function chooseFile(accept: string): Promise<File | null> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    input.addEventListener('change', () => resolve(input.files?.[0] ?? null));
    input.addEventListener('cancel', () => resolve(null));
    input.click();
  });
}

/** Puts a text on the person's own device as a file. */
export function saveFile(name: string, text: string, type: string): void {
  const url = URL.createObjectURL(new Blob([text], { type: `${type};charset=utf-8` }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}

/** Has the server make a sheet to print, and puts it on the person's own device. */
export const saveSheet = (sheet: Sheet, name: string): Promise<void> => fetchFile('/api/sheet', name, sheet);

/** Has the server make a file, of what is given where something is, and puts it on the person's own device. */
export async function fetchFile(path: string, name: string, given?: object): Promise<void> {
  const response = await fetch(path, {
    credentials: 'same-origin',
    ...(given === undefined
      ? {}
      : {
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify(given),
        }),
  });
  if (!response.ok) throw new Error(`the file could not be made (${response.status})`);
  const url = URL.createObjectURL(await response.blob());
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  URL.revokeObjectURL(url);
}
