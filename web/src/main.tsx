import "@fontsource-variable/overpass";
import "./app/look.css";
import { createRoot } from "react-dom/client";
import { App } from "./app/App";
import { applyTheme } from "./app/theme";

applyTheme();
const root = document.getElementById("root");
if (root) createRoot(root).render(<App />);
