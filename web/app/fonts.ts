/** The book's face, shipped with it; charts are drawn in it too. */
export const TEXT_FONT = "'Atkinson Hyperlegible Next Variable', system-ui, sans-serif";
/** Of what is written on a chart. */
export const CHART_FONT = { family: TEXT_FONT, size: 13 };
