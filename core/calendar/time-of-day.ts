const DAY_MINUTES = 1440;
const parts = (minute: number) => {
  const m = Math.floor(minute) % DAY_MINUTES;
  return [Math.floor(m / 60), String(m % 60).padStart(2, '0')] as const;
};

/** "9:05" of minutes after a midnight, not negative; past the next midnight it is the next day's hour. */
export function timeOfDay(minute: number): string {
  return parts(minute).join(':');
}

/** "09:05", the valid time string of HTML (HTML Living Standard, 2.3.5.3 "Times"): what a time field takes. */
export function timeFieldOf(minute: number): string {
  return timeOfDay(minute).padStart(5, '0');
}

/** Minutes after midnight of what stands in a time field ("09:05", "9:05"); null when that is no time. */
export function minuteOfField(text: string): number | null {
  const found = /^(\d{1,2}):(\d{2})$/.exec(text.trim());
  if (!found) return null;
  const [h, m] = [Number(found[1]), Number(found[2])];
  return h < 24 && m < 60 ? h * 60 + m : null;
}
