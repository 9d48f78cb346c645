from django.urls import path

from server.accounts.api import own, signing

urlpatterns = [
    path("session", signing.SessionView.as_view()),
    path("session/second", signing.SecondView.as_view()),
    path("session/passkey", signing.PasskeyView.as_view()),
    path("password", own.PasswordView.as_view()),
    path("password/forgotten", signing.ForgottenView.as_view()),
    path("password/new", signing.RenewedView.as_view()),
    path("invitations/<str:secret>", signing.InvitationView.as_view()),
    path("mailbox", signing.MailboxView.as_view()),
    path("account", own.OwnView.as_view()),
    path("account/language", own.LanguageView.as_view()),
    path("account/totp", own.TotpView.as_view()),
    path("account/totp/off", own.TotpOffView.as_view()),
    path("account/codes", own.CodesView.as_view()),
    path("account/passkeys", own.PasskeysView.as_view()),
    path("account/passkeys/new", own.NewPasskeyView.as_view()),
    path("account/passkeys/<int:passkey_id>/remove", own.RemovePasskeyView.as_view()),
    path("account/sessions/others", own.OtherSessionsView.as_view()),
    path("account/sessions/<int:session_id>", own.OneSessionView.as_view()),
    path("projects/<int:project_id>/invitations", own.InvitationsView.as_view()),
    path("projects/<int:project_id>/invitations/<int:invitation_id>", own.OneInvitationView.as_view()),
]
