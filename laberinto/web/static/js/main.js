/* What every page does in the browser. Nothing about wood is computed here; every change is asked of the server. */
import "./page.js";
import "./away.js";
