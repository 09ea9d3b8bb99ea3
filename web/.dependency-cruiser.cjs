/** Which folders may import which: see docs/architecture.md. */
const parts = (...names) => `^src/(${names.join("|")})/`;
const screens = ["demand", "flow", "teams", "findings", "compare", "runs", "history", "studies"];

module.exports = {
  forbidden: [
    { name: "no-cycle-of-files", severity: "error", from: {}, to: { circular: true } },
    { name: "no-cycle-of-folders", severity: "error", scope: "folder", from: {}, to: { circular: true } },
    {
      name: "the-study-knows-no-screen",
      severity: "error",
      from: { path: "^src/study/" },
      to: { path: "^src/(?!study/|api/)" },
    },
    {
      name: "edits-know-no-session",
      severity: "error",
      from: { path: "^src/study/(document|values|edits)/" },
      to: { path: "^src/study/session/" },
    },
    {
      name: "parts-know-no-screen",
      severity: "error",
      from: { path: parts("api", "study", "ui", "fields", "charts", "map", "sheets", "pulse") },
      to: { path: parts(...screens, "shell", "app") },
    },
    {
      name: "only-the-app-knows-all-screens",
      severity: "error",
      from: { path: "^src/", pathNot: "^src/(app/|main)" },
      to: { path: "^src/app/.*\\.tsx?$" },
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    exclude: { path: "\\.test\\.ts$" },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: "tsconfig.json" },
  },
};
