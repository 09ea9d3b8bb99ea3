import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type DragEvent, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../api/client";
import { Logo } from "../shell/Logo";
import { PersonMenu } from "../shell/PersonMenu";
import { LINK_BUTTON, MAIN_BUTTON, Menu, QUIET_BUTTON } from "../ui/Menu";
import { downloadStudy } from "./download";
import { ExportDialog } from "./importing/ExportDialog";
import { FolderDialog } from "./importing/FolderDialog";
import { ImportDialog } from "./importing/ImportDialog";
import { useImport } from "./importing/useImport";
import { COLUMNS, FEW, SortHead } from "./SortHead";
import { StudyMap } from "./StudyMap";
import { useListed } from "./useListed";

/** The person's studies: open, make, copy, delete, import and export. */
export function StudiesScreen() {
  const studies = useQuery({ queryKey: ["studies"], queryFn: () => ask(api.GET("/api/studies")) });
  const client = useQueryClient();
  const navigate = useNavigate();
  const picker = useRef<HTMLInputElement>(null);
  const listed = useListed(studies.data ?? []);

  const create = useMutation({
    mutationFn: (body: Schemas["NewStudy"]) => ask(api.POST("/api/studies", { body })),
    onSuccess: (study, body) => {
      void client.invalidateQueries({ queryKey: ["studies"] });
      if (!body.copy_of) void navigate(`/studies/${study.id}/flow`);
      else toast(`Made “${study.document.name}”.`);
    },
    onError: (error) => toast.error(error.message),
  });
  const importing = useImport((study) => {
    void client.invalidateQueries({ queryKey: ["studies"] });
    void navigate(`/studies/${study.id}/flow`);
  });
  const [exported, setExported] = useState<Schemas["StudyEntry"] | null>(null);
  const [passedOn, setPassedOn] = useState<Schemas["StudyEntry"] | null>(null);
  const remove = useMutation({
    mutationFn: (id: number) => ask(api.DELETE("/api/studies/{study_id}", { params: { path: { study_id: id } } })),
    onSuccess: (_, id) => {
      const name = studies.data?.find((study) => study.id === id)?.name;
      void client.invalidateQueries({ queryKey: ["studies"] });
      void client.invalidateQueries({ queryKey: ["deleted"] });
      toast(`Deleted “${name}”.`, { duration: 10000, action: { label: "Undo", onClick: () => restore.mutate(id) } });
    },
  });
  const restore = useMutation({
    mutationFn: (id: number) => ask(api.POST("/api/studies/{study_id}/restore", { params: { path: { study_id: id } } })),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["studies"] });
      void client.invalidateQueries({ queryKey: ["deleted"] });
    },
  });

  const drop = (event: DragEvent) => {
    event.preventDefault();
    void importing.choose(event.dataTransfer.files[0]);
  };
  return (
    <div className="flex h-full flex-col" onDrop={drop} onDragOver={(event) => event.preventDefault()}>
      <header className="on-bar flex h-13 shrink-0 items-center gap-3 bg-bar px-5 text-on-bar">
        <Logo />
        <span className="font-bold">Urban Queue</span>
        <span className="ml-auto">
          <PersonMenu />
        </span>
      </header>
      <main className="mx-auto w-full max-w-5xl flex-1 overflow-auto px-8 py-8">
        <div className="mb-5 flex items-end gap-3">
          <h1 className="mr-auto text-xl font-bold">Studies</h1>
          {(studies.data?.length ?? 0) > FEW && (
            <input
              type="search"
              aria-label="Find a study"
              placeholder="Find a study"
              className="w-52 rounded-md border border-rule bg-sheet px-3 py-2 text-sm"
              value={listed.sought}
              onChange={(event) => listed.setSought(event.target.value)}
            />
          )}
          <button type="button" className={QUIET_BUTTON} onClick={() => picker.current?.click()}>
            Import a process
          </button>
          <input
            ref={picker}
            type="file"
            accept=".bpmn,.xml,.json,.zip,application/xml,application/json,application/zip"
            className="hidden"
            aria-label="Process, study file or whole folder"
            onChange={(event) => {
              void importing.choose(event.target.files?.[0]);
              event.target.value = "";
            }}
          />
          <button type="button" className={MAIN_BUTTON} onClick={() => create.mutate({})}>
            New study
          </button>
        </div>
        {studies.isError && <p role="alert">{studies.error.message}</p>}
        {studies.data?.length === 0 && (
          <p className="border-t border-rule py-6 text-ink-2">
            There is no study yet. Make a new one: it starts as <i>arrive, be served, leave</i> and already runs. Or drop a process drawn as
            BPMN, a study file, or the whole folder of a study here.
          </p>
        )}
        {studies.data && studies.data.length > 0 && (
          <table className="w-full">
            <thead>
              <tr className="border-b-2 border-ink text-left text-sm text-ink-2">
                <th className="py-2">
                  <span className="sr-only">Map</span>
                </th>
                {COLUMNS.map((column) => (
                  <SortHead key={column.key} column={column} order={listed.order} onOrder={listed.setOrder} />
                ))}
                <th className="w-24 py-2">
                  <span className="sr-only">What to do</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {listed.shown.map((study) => (
                <tr key={study.id} className="border-b border-rule hover:bg-sheet">
                  <td className="w-52 py-1.5">
                    <StudyMap id={study.id} version={study.version} />
                  </td>
                  <td className="py-3 pr-8">
                    <Link
                      to={`/studies/${study.id}/flow`}
                      className="text-base font-bold hover:underline hover:decoration-marker hover:decoration-2"
                    >
                      {study.name}
                    </Link>
                    {study.finding && <LastFinding {...study.finding} isNow={study.finding.version === study.version} />}
                  </td>
                  <td className="whitespace-nowrap pr-8 text-ink-2">{when(study.changed_at)}</td>
                  <td className="pr-8 text-right">{study.runs || "–"}</td>
                  <td className="text-right">
                    <Menu
                      trigger="More"
                      label={`More for ${study.name}`}
                      className={LINK_BUTTON}
                      items={[
                        { label: "Duplicate", onChoose: () => create.mutate({ copy_of: study.id }) },
                        { label: "Export the study file", onChoose: () => void downloadStudy(study.id, study.version, study.name) },
                        { label: "Export as a process", onChoose: () => setExported(study) },
                        { label: "Export the whole folder", onChoose: () => setPassedOn(study) },
                        { label: "Delete", wrong: true, onChoose: () => remove.mutate(study.id) },
                      ]}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {listed.shown.length === 0 && listed.sought && <p className="py-4 text-ink-2">No study is called that.</p>}
        <Deleted onRestore={(id) => restore.mutate(id)} />
      </main>
      <ImportDialog {...importing} />
      {exported && <ExportDialog study={exported} onClose={() => setExported(null)} />}
      {passedOn && <FolderDialog study={passedOn} onClose={() => setPassedOn(null)} />}
    </div>
  );
}

/** What the last run of a study found, and of which version where it has changed since. */
function LastFinding({ sentence, version, isNow }: Schemas["Finding"] & { isNow: boolean }) {
  return (
    <p className="max-w-lg text-sm text-ink-2">
      {sentence}
      {!isNow && <span className="text-ink-3"> Found with version {version}.</span>}
    </p>
  );
}

/** What was deleted and can still be brought back, folded away. */
function Deleted({ onRestore }: { onRestore: (id: number) => void }) {
  const deleted = useQuery({ queryKey: ["deleted"], queryFn: () => ask(api.GET("/api/studies/deleted")) });
  if (!deleted.data?.length) return null;
  return (
    <details className="mt-8 border-t border-rule pt-3">
      <summary className="cursor-pointer text-ink-2">Deleted studies, kept for 30 days</summary>
      <table className="mt-2 w-full">
        <thead className="sr-only">
          <tr>
            <th>Name</th>
            <th>Kept until</th>
            <th>What to do</th>
          </tr>
        </thead>
        <tbody>
          {deleted.data.map((study) => (
            <tr key={study.id} className="border-b border-rule">
              <td className="py-2">{study.name}</td>
              <td className="text-ink-2">
                gone for good on{" "}
                {new Date(study.restorable_until).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" })}
              </td>
              <td className="text-right">
                <button type="button" className={LINK_BUTTON} aria-label={`Restore ${study.name}`} onClick={() => onRestore(study.id)}>
                  Restore
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

function when(moment: string): string {
  return new Date(moment).toLocaleString("en-GB", { day: "numeric", month: "short", year: "numeric", hour: "2-digit", minute: "2-digit" });
}
