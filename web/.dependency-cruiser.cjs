// One list of rooms, from the ground up: a room may use those on lower floors and nothing beside or above it.
const FLOORS = [
  ["api"],
  ["store"],
  ["ui"],
  ["verbs"],
  ["operating"],
  ["picture", "sound"],
  ["assembly", "bringing", "card", "coverage", "curves", "dailies", "film", "handover", "lines", "lookouts", "notes", "operate", "plan", "scenes", "viewfinder"],
  ["desk"],
];

const inside = (rooms) => `^src/(${rooms.join("|")})/`;
const forbidden = FLOORS.flatMap((rooms, floor) =>
  rooms.map((room) => ({
    name: `${room} uses only the floors below it`,
    severity: "error",
    from: { path: inside([room]) },
    to: { path: inside(FLOORS.slice(floor).flat().filter((other) => other !== room)) },
  })),
);

module.exports = {
  forbidden: [
    ...forbidden,
    { name: "no circles", severity: "error", from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ["type-only"] } } },
    {
      name: "every room has a floor",
      severity: "error",
      from: { path: "^src/[^/]+/", pathNot: inside(FLOORS.flat()) },
      to: {},
    },
  ],
  options: { doNotFollow: { path: "node_modules" }, tsPreCompilationDeps: true, tsConfig: { fileName: "tsconfig.json" }, includeOnly: "^src" },
};
