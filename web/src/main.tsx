import "@fontsource-variable/overpass";
import "./app/look.css";
import { createRoot } from "react-dom/client";
import { App } from "./app/App";
import { applyTheme } from "./shell/theme";

// After an upgrade an open page may ask for a screen that is no longer there: the new page has it.
window.addEventListener("vite:preloadError", () => window.location.reload());
applyTheme();
const root = document.getElementById("root");
if (root) createRoot(root).render(<App />);
