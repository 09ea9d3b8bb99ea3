import { useMutation } from "@tanstack/react-query";
import { toast } from "sonner";
import { api, ask } from "../api/client";
import { dropDraft, saveNow } from "../study/autosave";
import { open, useStudy } from "../study/store";
import { MAIN_BUTTON, QUIET_BUTTON } from "../ui/Menu";
import { Modal } from "../ui/Modal";

/** Two people edited at once: both documents are there, and the person says what becomes of them. */
export function ConflictDialog() {
  const { id, conflict, document } = useStudy();
  const copy = useMutation({
    mutationFn: () => ask(api.POST("/api/studies", { body: { document: { ...document, name: `${document.name.slice(0, 100)} (mine)` } } })),
    onSuccess: (study) => {
      takeTheirs();
      toast(`Yours is kept as “${study.document.name}”.`);
    },
    onError: (error) => toast.error(error.message),
  });
  const takeTheirs = () => {
    if (!conflict) return;
    dropDraft(id);
    open(id, conflict.version, conflict.theirs, [], "changed");
    void saveNow();
  };
  const keepMine = () => {
    if (!conflict) return;
    useStudy.setState({ version: conflict.version, conflict: null, save: "changed" });
    void saveNow();
  };
  return (
    <Modal open={conflict !== null} title="This study was changed elsewhere">
      <p className="mb-4">
        Someone, or you in another window, saved version {conflict?.version} while you were editing. Both are kept; the history has every version.
      </p>
      <div className="flex flex-wrap gap-2">
        <button type="button" className={MAIN_BUTTON} onClick={() => copy.mutate()} disabled={copy.isPending}>
          Keep mine as a study of its own
        </button>
        <button type="button" className={QUIET_BUTTON} onClick={keepMine}>
          Put mine on top
        </button>
        <button type="button" className={QUIET_BUTTON} onClick={takeTheirs}>
          Take theirs
        </button>
      </div>
    </Modal>
  );
}
