import { createContext, useContext, useEffect, useId, useMemo, useRef, type ReactNode } from 'react';

/** What is typed in a field and cannot be taken, with the reason. */
export interface TypedWrong {
  readonly label: string;
  readonly error: string;
}

type Tell = (field: string, wrong: TypedWrong | null) => void;
const Typed = createContext<Tell | null>(null);

/** Tells whatever holds a field that what is typed there cannot be taken, as long as that is so. */
export function useTellTyped(label: string, error: string | null): void {
  const tell = useContext(Typed);
  const field = useId();
  useEffect(() => {
    if (!tell || error === null) return;
    tell(field, { label, error });
    return () => tell(field, null);
  }, [tell, field, label, error]);
}

/** The fields within, and the first of them in which something is typed that was not taken. */
export function useTyped(): {
  readonly first: () => TypedWrong | null;
  readonly within: (children: ReactNode) => ReactNode;
} {
  const wrong = useRef(new Map<string, TypedWrong>());
  return useMemo(() => {
    const tell: Tell = (field, what) => {
      if (what) wrong.current.set(field, what);
      else wrong.current.delete(field);
    };
    return {
      first: () => wrong.current.values().next().value ?? null,
      within: (children) => <Typed.Provider value={tell}>{children}</Typed.Provider>,
    };
  }, []);
}
