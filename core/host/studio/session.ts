/** The session *Nine Ferries*, ours. */
export const TRACKS = [
  'Narrator',
  'Ferryman',
  'Foghorn',
  'Bow Wave',
  'Engine Room',
  'Gulls',
  'Rain Bed',
  'Cello',
  'Bass Clarinet',
  'Bowed Saw',
  'Choir',
  'Timpani',
  'Piano',
  'Radio Voice',
  'Room Tone',
  'Slack Tide',
];
export const BUSES = ['Dialogue', 'Effects', 'Music'];
export const STRIPS = [
  ...TRACKS.map((name) => ({ name, group: 'track' as const })),
  ...BUSES.map((name) => ({ name, group: 'bus' as const })),
  { name: 'Master', group: 'master' as const },
];
