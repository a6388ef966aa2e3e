const DAY_MINUTES = 1440;

/** The clocks a yard writes its hours by: of 24 hours, or of twice twelve. */
export const CLOCKS = ['24', '12'] as const;
export type ClockFace = (typeof CLOCKS)[number];

const parts = (minute: number) => {
  const m = Math.floor(minute) % DAY_MINUTES;
  return [Math.floor(m / 60), String(m % 60).padStart(2, '0')] as const;
};

/**
 * "21:05" of minutes after a midnight, not negative; past the next midnight it is the next day's hour. By the clock of
 * twelve hours "9:05 pm": midnight is 12 am and noon 12 pm, as NIST's "Times of Day FAQs" has it (from memory).
 */
export function timeOfDay(minute: number, clock: ClockFace = '24'): string {
  const [hour, minutes] = parts(minute);
  return clock === '24' ? `${hour}:${minutes}` : `${hour % 12 || 12}:${minutes}\u00a0${hour < 12 ? 'am' : 'pm'}`;
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
