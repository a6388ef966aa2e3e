/** The leaves of Stores. */
export const STORES_LEAVES: [to: string, word: string][] = [
  ['/stores', 'Shelves'],
  ['/stores/picks', 'Pick'],
  ['/stores/orders', 'Orders'],
  ['/stores/suppliers', 'Suppliers'],
  ['/stores/count', 'Count'],
  ['/stores/money', 'Money'],
  ['/stores/labels', 'Labels'],
];
