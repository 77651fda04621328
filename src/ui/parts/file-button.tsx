'use client';
import { useRef, type ReactNode } from 'react';
import { Button } from './button';

/** A button that asks for a file, or with `multiple` for one or more. */
export function FileButton({
  label,
  accept,
  multiple = false,
  disabled = false,
  onFiles,
  children,
}: {
  readonly label: string;
  readonly accept: string;
  readonly multiple?: boolean;
  readonly disabled?: boolean;
  /** Never empty. */
  readonly onFiles: (files: readonly File[]) => void;
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
        multiple={multiple}
        className="hidden"
        onChange={(e) => {
          const files = [...(e.target.files ?? [])];
          e.target.value = ''; // the same file may be chosen again
          if (files.length > 0) onFiles(files);
        }}
      />
      <Button disabled={disabled} onClick={() => input.current?.click()}>
        {children}
      </Button>
    </>
  );
}
