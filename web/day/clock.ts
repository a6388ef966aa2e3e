/** "9:05"; after midnight the next day's. */
export const clockOf = (minute: number) => {
  const m = Math.round(minute) % 1440;
  return `${Math.floor(m / 60)}:${String(m % 60).padStart(2, '0')}`;
};
