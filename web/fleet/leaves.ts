export const FLEET_LEAVES: [string, string][] = [
  ['/fleet', 'Boats and engines'],
  ['/fleet/hires', 'Hires'],
  ['/fleet/boxes', 'Boxes on boats'],
  ['/fleet/models', 'Models and programmes'],
  ['/fleet/bases', 'Bases'],
  ['/fleet/files', 'Files in and out'],
];
