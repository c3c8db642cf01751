import { useState } from 'react';
import type { Sheet } from '../../api/sheets';
import { saveSheet } from '../data/files';
import { Button, Refused } from '../kit/parts';

/** Saves a sheet as a PDF to print. */
export function PdfButton({ sheet, name }: { readonly sheet: Sheet; readonly name: string }) {
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<unknown>(null);
  const save = async () => {
    setBusy(true);
    setTrouble(null);
    try {
      await saveSheet(sheet, name);
    } catch (error) {
      setTrouble(error);
    } finally {
      setBusy(false);
    }
  };
  return (
    <>
      <Button label="Save as PDF" busy={busy} onPress={() => void save()} />
      <Refused error={trouble} />
    </>
  );
}
