'use client';
import { useEffect, useRef, useState } from 'react';
import { droppedFiles } from './dropped-files';

/** Takes files that are dropped anywhere on the page. @returns whether some are held over it */
export function useDroppedFiles(take: (files: readonly File[]) => void): boolean {
  const [over, setOver] = useState(false);
  const latest = useRef(take);
  latest.current = take;
  useEffect(() => {
    const bringsFiles = (event: DragEvent): boolean => event.dataTransfer?.types.includes('Files') ?? false;
    const onOver = (event: DragEvent): void => {
      if (!bringsFiles(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const onLeave = (event: DragEvent): void => {
      if (event.relatedTarget === null) setOver(false);
    };
    const onDrop = (event: DragEvent): void => {
      if (event.dataTransfer === null || !bringsFiles(event)) return;
      event.preventDefault();
      setOver(false);
      void droppedFiles(event.dataTransfer).then((files) => latest.current(files));
    };
    window.addEventListener('dragover', onOver);
    window.addEventListener('dragleave', onLeave);
    window.addEventListener('drop', onDrop);
    return () => {
      window.removeEventListener('dragover', onOver);
      window.removeEventListener('dragleave', onLeave);
      window.removeEventListener('drop', onDrop);
    };
  }, []);
  return over;
}
