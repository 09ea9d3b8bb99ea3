/** In which order those who wait are served, in words. */
export const DISCIPLINES = [
  { value: "first-come", label: "first come, first served" },
  { value: "priority", label: "by priority" },
  { value: "due", label: "by what is due first" },
  { value: "shortest-work", label: "the shortest work first" },
  { value: "last-come", label: "last come, first served" },
  { value: "random", label: "in any order" },
];
