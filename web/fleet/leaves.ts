export const FLEET_LEAVES: [string, string][] = [
  ['/fleet', 'Boats and engines'],
  ['/fleet/hires', 'Hires'],
  ['/fleet/models', 'Models and programmes'],
  ['/fleet/bases', 'Bases'],
  ['/fleet/files', 'Files in and out'],
];
