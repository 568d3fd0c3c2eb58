/* What the pages do in the browser. Nothing about wood is computed here; every change is asked of the server. */
import "./morph.js";
import "./page.js";
import "./edits.js";
import "./lines.js";
import "./drag.js";
import "./drawing.js";
import "./replay.js";
import "./studio.js";
import "./away.js";
import "./draft.js";
import "./pad.js";
import "./picture.js";
import "./hand.js";
import "./unsent.js";
import "./palette.js";
import "./words.js";
import "./tour.js";
