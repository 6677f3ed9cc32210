"use strict";

const at = id => document.getElementById(id);
const form = at("form");
const fields = ["number", "vessel", "berth", "eta", "draughtCentimetres", "remark"];

let page = null; // the mark of the page that is shown; null for the first one
let next = null; // that of the next one
let chosen = null; // the booking in the form; null for a new one

function make(kind, text, style) {
  const made = document.createElement(kind);
  made.textContent = text ?? "";
  if (style) {
    made.className = style;
  }
  return made;
}

function say(text, bad) {
  at("message").textContent = text;
  at("message").className = bad ? "bad" : "";
}

async function ask(path, options) {
  const answer = await fetch("/api/bookings" + path, options);
  const body = answer.status === 204 ? null : await answer.json().catch(() => null);
  await showTrace();
  return { status: answer.status, body };
}

// ---- the list

function row(item) {
  const made = document.createElement("tr");
  const draught = item.draughtCentimetres ? (item.draughtCentimetres / 100).toFixed(2) + " m" : "";
  made.tabIndex = 0;
  made.append(
    make("td", item.number),
    make("td", item.vessel),
    make("td", item.berth),
    make("td", item.eta.slice(0, 16).replace("T", " ")),
    make("td", draught, "number"),
    make("td", item.remark));
  made.onclick = () => open(item, made);
  made.onkeydown = event => {
    if (event.key === "Enter") {
      open(item, made);
    }
  };
  return made;
}

async function show(after) {
  const { body } = await ask("?size=10" + (after ? "&after=" + encodeURIComponent(after) : ""));
  page = after;
  next = body.next;
  at("rows").replaceChildren(...body.items.map(row));
  at("next").disabled = !next;
  at("first").disabled = !after;
}

// ---- the form

function open(item, chosenRow) {
  chosen = item;
  document.querySelectorAll("tr.chosen").forEach(one => one.classList.remove("chosen"));
  chosenRow?.classList.add("chosen");
  at("heading").textContent = item ? "Booking " + item.number : "New booking";
  fields.forEach(name => {
    form.elements[name].value = item?.[name] ?? "";
  });
  at("delete").hidden = !item;
  at("conflict").hidden = true;
  showProblems([]);
  form.hidden = false;
  form.elements[0].focus();
}

function showProblems(list) {
  form.querySelectorAll(".problem").forEach(one => one.remove());
  fields.forEach(name => {
    const input = form.elements[name];
    const found = list.filter(one => one.field === name);
    input.setAttribute("aria-invalid", found.length > 0);
    input.removeAttribute("aria-describedby");
    found.forEach(one => {
      const note = make("span", one.reason, "problem");
      note.id = "problem-" + name;
      input.setAttribute("aria-describedby", note.id);
      input.after(note);
    });
  });
}

function title(name) {
  return form.elements[name]?.labels[0].firstChild.textContent.trim() ?? name;
}

function showConflict(list) {
  const table = document.createElement("table");
  table.createTHead().insertRow().append(...["", "you read", "you want", "there is"].map(text => make("th", text)));
  const body = table.createTBody();
  list.forEach(one => {
    const what = one.field ? title(one.field) : "the booking";
    const read = one.field ? chosen[one.field] : chosen.number;
    body.insertRow().append(...[what, read, one.mine, one.theirs].map(text => make("td", text)));
  });
  const again = make("button", "Show what is there");
  again.type = "button";
  again.onclick = showWhatIsThere;
  at("conflict").replaceChildren("Somebody else has changed this booking meanwhile:", table, again);
  at("conflict").hidden = false;
}

async function showWhatIsThere() {
  const { status, body } = await ask("/" + chosen.id);
  if (status === 200) {
    open(body);
  } else {
    form.hidden = true;
    say("The booking is gone.", true);
  }
  await show(page);
}

const seen = () => ({ "If-Match": '"' + chosen.revision + '"' });

async function store() {
  const typed = Object.fromEntries(fields.map(name => [name, form.elements[name].value]));
  const json = { "Content-Type": "application/json" };
  if (!chosen) {
    return ask("", { method: "POST", headers: json, body: JSON.stringify(typed) });
  }
  return ask("/" + chosen.id, { method: "PUT", headers: { ...json, ...seen() }, body: JSON.stringify(typed) });
}

form.onsubmit = async event => {
  event.preventDefault();
  const { status, body } = await store();
  showProblems(status === 422 ? body.problems : []);
  at("conflict").hidden = true;
  if (status === 409) {
    showConflict(body.conflicts);
    say("Not stored: somebody else was faster.", true);
  } else if (status === 422) {
    say("Not stored: see the fields.", true);
    form.querySelector("[aria-invalid=true]")?.focus();
  } else if (status >= 400) {
    say("Not stored: " + (body?.message ?? status), true);
  } else {
    say("Booking " + body.number + " is stored, revision " + body.revision + ".");
    form.hidden = true;
    const storing = at("trace").cloneNode(true); // more of interest than that of the list
    await show(page);
    at("trace").replaceWith(storing);
  }
};

at("delete").onclick = async () => {
  const { status, body } = await ask("/" + chosen.id, { method: "DELETE", headers: seen() });
  if (status === 409) {
    showConflict(body.conflicts);
    say("Not deleted: somebody else was faster.", true);
    return;
  }
  say("Booking " + chosen.number + " is deleted.");
  form.hidden = true;
  await show(page);
};

// ---- an import

function refusal(one) {
  return "line " + one.line + ": " + one.problems.map(problem => problem.field + " " + problem.reason).join(", ");
}

at("file").onchange = async () => {
  const text = await at("file").files[0].text();
  const { body } = await ask("/import", { method: "POST", headers: { "Content-Type": "text/csv" }, body: text });
  const refused = body.refused.map(refusal);
  const rest = refused.length ? ", " + refused.length + " refused: " + refused.join("; ") : "";
  say(body.stored + " stored" + rest, refused.length > 0);
  at("file").value = "";
  await show(null);
};

// ---- what was executed

function statement(line) {
  const item = document.createElement("li");
  const note = " " + line.rows + " rows, " + line.millis.toFixed(2) + " ms, for " + line.purpose;
  item.append(make("code", line.sql), make("span", note, "dim"));
  return item;
}

async function showTrace() {
  const answer = await fetch("/api/trace");
  const [last] = answer.ok ? await answer.json() : [];
  if (last) {
    at("trace").hidden = false;
    const page = make("a", "as a page");
    page.href = "/api/trace/0";
    at("request").replaceChildren(last.what + ": status " + last.status + ", " + last.lines.length + " lines, ", page);
    at("statements").replaceChildren(...last.lines.map(statement));
  }
}

at("new").onclick = () => open(null);
at("cancel").onclick = () => {
  form.hidden = true;
};
at("next").onclick = () => show(next);
at("first").onclick = () => show(null);
show(null);
