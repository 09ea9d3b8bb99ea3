import { useQuery } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../../api/client";
import { saveFrom, sizeInWords } from "../../ui/files";
import { MAIN_BUTTON, QUIET_BUTTON } from "../../ui/Menu";
import { Modal } from "../../ui/Modal";

interface FolderDialogProps {
  study: Schemas["StudyEntry"];
  onClose: () => void;
}

/** The whole folder of a study, for passing on everything: what is in it is said before it is saved. */
export function FolderDialog({ study, onClose }: FolderDialogProps) {
  const logs = useQuery({
    queryKey: ["logs", study.id],
    queryFn: () => ask(api.GET("/api/studies/{study_id}/logs", { params: { path: { study_id: study.id } } })),
  });
  const save = () => {
    saveFrom(`/api/studies/${study.id}/folder`);
    toast("The folder is being made while it is saved; many runs take a while.");
    onClose();
  };
  return (
    <Modal open onClose={onClose} title={`The whole folder of “${study.name}”`}>
      <p className="mb-3">
        One zip with all versions of the study, the figures of all runs as tables, the answers of searches, the memos as pages, and the
        logs.
      </p>
      <p className="mb-3 text-ink-2">
        Whoever imports it gets the same study with its history; runs and searches are made again there, with the same luck.
      </p>
      {logs.data && logs.data.length > 0 && <Logs logs={logs.data} />}
      <p className="mt-5 flex justify-end gap-3">
        <button type="button" className={QUIET_BUTTON} onClick={onClose}>
          Cancel
        </button>
        <button type="button" className={MAIN_BUTTON} disabled={logs.isPending} onClick={save}>
          Save the folder
        </button>
      </p>
    </Modal>
  );
}

function Logs({ logs }: { logs: Schemas["LogEntry"][] }) {
  return (
    <section aria-label="Logs in the folder" className="border-l-4 border-marker pl-3">
      <p>These logs are in it as they were brought. Look whether you may pass them on:</p>
      <ul className="max-h-40 overflow-auto">
        {logs.map((log) => (
          <li key={log.id}>
            {log.name} <span className="text-ink-2">({sizeInWords(log.size)})</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
