import path from 'node:path';

/** The folders that the demo watches, beside the one for bills. */
export function trays(bills: string) {
  const beside = (name: string): string => path.join(path.dirname(bills), name);
  return [
    { key: 'scan-folder', name: 'Folder “bills”', path: bills, pipeline: 'haulage-to-ledger' },
    { key: 'weighbridge-folder', name: 'Folder “weighbridge”', path: beside('weighbridge'), pipeline: 'weighbridge-to-list' },
    { key: 'power-folder', name: 'Folder “power”', path: beside('power'), pipeline: 'berth-power' },
    { key: 'post-tray', name: 'Folder “post”', path: beside('post'), pipeline: 'harbour-post' },
  ] as const;
}
