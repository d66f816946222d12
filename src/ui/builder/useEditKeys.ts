'use client';
import { useEffect } from 'react';
import { isTyping } from '../frame/Frame';
import type { Building } from './useBuilder';

/** Ctrl+Z and Ctrl+Shift+Z (or Ctrl+Y), outside of fields, which have their own. */
export function useEditKeys(builder: Building, asText: boolean): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (asText || isTyping(event.target) || !(event.ctrlKey || event.metaKey) || event.altKey) return;
      const key = event.key.toLowerCase();
      const act = key === 'z' ? (event.shiftKey ? builder.redo : builder.undo) : key === 'y' ? builder.redo : null;
      if (!act) return;
      act();
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
}
