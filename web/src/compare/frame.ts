/** The room of a picture beside the comparison, in pixels, and how its words look. */
export const FRAME = {
  width: 300,
  height: 250,
  marginLeft: 40,
  marginRight: 14,
  marginTop: 26,
  marginBottom: 38,
  style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
};
