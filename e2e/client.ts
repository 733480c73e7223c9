// A script of the shop's own as somebody writes one: by a client whose types are generated from the shop's document.
import createClient from "openapi-fetch";
import type { paths } from "./api";

export async function asks(baseUrl: string, token: string) {
  const shop = createClient<paths>({ baseUrl, headers: { Authorization: `Bearer ${token}` } });
  const turned = await shop.POST("/api/v1/calc/convert", { body: { value: 96, from: "N·m", to: "ft·lb" } });
  const jobs = await shop.GET("/api/v1/jobs", { params: { query: { state: "open", limit: 2 } } });
  const id = jobs.data?.items[0]?.id ?? "";
  const job = await shop.GET("/api/v1/jobs/{job}", { params: { path: { job: id } } });
  const account = await shop.GET("/api/v1/jobs/{job}/account", { params: { path: { job: id } } });
  const none = await shop.GET("/api/v1/jobs/{job}", { params: { path: { job: "there is none" } } });
  const due = await shop.GET("/api/v1/due.csv", { parseAs: "text" });
  return {
    footPounds: turned.data?.value,
    listed: jobs.data?.items.length,
    owed: [jobs.data?.items[0]?.owed, job.data?.owed],
    account: account.response.status,
    none: none.error?.code,
    due: due.data?.split("\r\n")[0],
  };
}
