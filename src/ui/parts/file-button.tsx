'use client';
import { useRef, type ReactNode } from 'react';
import { Button } from './button';

/** A button that asks for one file. */
export function FileButton({
  label,
  accept,
  disabled = false,
  onFile,
  children,
}: {
  readonly label: string;
  readonly accept: string;
  readonly disabled?: boolean;
  readonly onFile: (file: File) => void;
  readonly children: ReactNode;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        aria-label={label}
        accept={accept}
        className="hidden"
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          e.target.value = ''; // the same file may be chosen again
          if (file !== undefined) onFile(file);
        }}
      />
      <Button disabled={disabled} onClick={() => input.current?.click()}>
        {children}
      </Button>
    </>
  );
}
